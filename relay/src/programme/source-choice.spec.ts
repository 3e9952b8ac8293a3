import type { SourceAudioFrame, SourceVideoFrame } from '@juncta/core/programme';
import { SourceChoice } from './source-choice';
import type { ProgrammeInput, ProgrammeSource, SourceStream } from './source';

/** Notes what the programme gets. */
class Programme implements ProgrammeInput {
  readonly got: string[] = [];
  readonly size = null;
  begin = ({ session }: SourceStream) => void this.got.push(`begin ${session}`);
  gap = () => void this.got.push('gap');
  takeVideo = ({ time, key }: SourceVideoFrame) => void this.got.push(`${key ? 'key' : 'frame'} ${time}`);
  takeAudio = ({ time }: SourceAudioFrame) => void this.got.push(`audio ${time}`);
  slate = () => void this.got.push('slate');
  take(): string[] {
    return this.got.splice(0);
  }
}

describe('SourceChoice', () => {
  let programme: Programme;
  let choice: SourceChoice;
  let desk: ProgrammeInput, hall: ProgrammeInput;
  let here: Record<string, boolean>;
  let asked: string[];
  beforeEach(() => {
    programme = new Programme();
    choice = new SourceChoice(programme, () => undefined);
    here = { desk: true, hall: true };
    asked = [];
    const source = (name: string): ProgrammeSource => ({
      get id() {
        return here[name] ? name : null;
      },
      incomingKbps: 1,
      wantKeyframe: () => void asked.push(name),
      covered: () => undefined,
      tick: () => undefined,
      close: () => void asked.push(`close ${name}`),
    });
    desk = choice.gate('desk');
    hall = choice.gate('hall');
    for (const name of ['desk', 'hall']) choice.connect(name, source(name));
    for (const [gate, session] of [
      [desk, 'desk'],
      [hall, 'hall'],
    ] as const)
      gate.begin({ session, width: 1, height: 1, videoKbps: 1 });
    programme.take();
  });
  const video = (time: number, key = false): SourceVideoFrame => ({ time, key, units: [] });
  const audio = (time: number): SourceAudioFrame => ({ time, frame: Uint8Array.of(1) });

  it('lets through what the first source sends, and nothing of the others', () => {
    desk.takeVideo(video(1, true));
    hall.takeVideo(video(2, true));
    hall.takeAudio(audio(2));
    hall.gap();
    desk.takeAudio(audio(3));
    expect(programme.take()).toEqual(['key 1', 'audio 3']);
    expect([choice.id, choice.choice]).toEqual(['desk', 'desk']);
  });

  it('changes over at the other’s keyframe, with the audio that came before it', () => {
    choice.choose('hall');
    expect([asked, choice.choice, choice.id]).toEqual([['hall'], 'hall', 'desk']);
    desk.takeVideo(video(1));
    hall.takeVideo(video(10));
    hall.takeAudio(audio(11));
    desk.takeVideo(video(2));
    hall.takeVideo(video(12, true));
    desk.takeVideo(video(3, true));
    hall.takeVideo(video(13));
    expect(programme.take()).toEqual(['frame 1', 'frame 2', 'begin hall', 'audio 11', 'key 12', 'frame 13']);
    expect(choice.id).toBe('hall');
  });

  it('changes over at once to a source that is away: viewers are not to go on seeing what was taken off', () => {
    choice.choose('hall');
    hall.takeVideo(video(1, true));
    here['desk'] = false;
    programme.take();
    choice.choose('desk');
    hall.takeVideo(video(2));
    expect(programme.take()).toEqual(['begin desk']);
  });

  it('thinks better of it before the keyframe came', () => {
    choice.choose('hall');
    choice.choose('desk');
    hall.takeVideo(video(1, true));
    desk.takeVideo(video(2, true));
    expect(programme.take()).toEqual(['key 2']);
  });

  it('goes back to the first when what was on is removed', () => {
    choice.choose('hall');
    hall.takeVideo(video(1, true));
    choice.remove('hall');
    desk.takeVideo(video(2, true));
    expect(programme.take().slice(-2)).toEqual(['begin desk', 'key 2']);
    expect(asked).toContain('close hall');
  });

  it('prefers the first source’s slate', () => {
    hall.slate({ videoFrames: [] });
    desk.slate({ videoFrames: [] });
    hall.slate({ videoFrames: [] });
    expect(programme.take()).toEqual(['slate', 'slate']);
  });
});
