/** Agreeing on media takes no longer than this, or something is wrong that waiting will not mend. */
const GATHER_PATIENCE_MS = 3000;

/** Travels whole: with every address this browser can be reached by in it. */
async function whole(peer: RTCPeerConnection): Promise<string> {
  if (peer.iceGatheringState !== 'complete') {
    await new Promise<void>((done) => {
      const late = setTimeout(done, GATHER_PATIENCE_MS);
      peer.onicegatheringstatechange = () => {
        if (peer.iceGatheringState !== 'complete') return;
        clearTimeout(late);
        done();
      };
    });
  }
  return peer.localDescription!.sdp;
}

/** A line over which picture and sound go out. */
export async function makeOffer(peer: RTCPeerConnection, stream: MediaStream): Promise<string> {
  for (const track of stream.getTracks()) {
    peer.addTransceiver(sentOf(track) ?? track.kind, { direction: 'sendonly', streams: [stream] });
  }
  await peer.setLocalDescription(await peer.createOffer());
  return whole(peer);
}

/**
 * Sends other tracks over a line there is, or those that were turned off or on.
 *
 * @returns false: they are of other kinds than what it was made for, and nothing is changed
 */
export function exchangeTracks(peer: RTCPeerConnection, stream: MediaStream): boolean {
  const tracks = stream.getTracks();
  const lanes = peer.getTransceivers().map(({ sender, receiver }) => ({
    sender,
    track: tracks.find(({ kind }) => kind === receiver.track.kind),
  }));
  if (tracks.length !== lanes.length || lanes.some(({ track }) => !track)) return false;
  for (const { sender, track } of lanes) {
    const sent = sentOf(track!);
    // It fails only for a line that is closed, which is made anew anyway.
    if (sent !== sender.track) void sender.replaceTrack(sent).catch(() => undefined);
  }
  return true;
}

/** A picture that is off is not sent at all: black frames cost something, and are seen when it comes on again. */
const sentOf = (track: MediaStreamTrack): MediaStreamTrack | null =>
  track.kind === 'video' && !track.enabled ? null : track;

/** A line over which they come in: `stream` fills as the tracks are agreed on. */
export async function makeAnswer(
  peer: RTCPeerConnection,
  offer: string,
  stream: MediaStream,
): Promise<string> {
  peer.ontrack = ({ track }) => stream.addTrack(track);
  await peer.setRemoteDescription({ type: 'offer', sdp: offer });
  await peer.setLocalDescription(await peer.createAnswer());
  return whole(peer);
}

/** Tells once when a line is broken for good. */
export function onBroken(peer: RTCPeerConnection, tell: () => void): void {
  peer.addEventListener('connectionstatechange', () => {
    if (peer.connectionState === 'failed') tell();
  });
}
