import type { ErrorBody } from '@juncta/contract/errors';
import { Subject } from 'rxjs';
import { RequestState } from './request-state';

describe('request state', () => {
  const error: ErrorBody = {
    code: 'bad_input',
    sentence: 'No.',
    fields: [{ field: 'name', code: 'empty', sentence: 'The name is missing.' }],
  };
  let state: RequestState;
  beforeEach(() => (state = new RequestState()));

  it('is busy until the last answer', () => {
    const [first, second] = [new Subject<number>(), new Subject<number>()];
    const got: number[] = [];
    state.run(first, (answer) => got.push(answer));
    state.run(second, (answer) => got.push(answer));
    first.next(1);
    first.complete();
    expect(state.busy()).toBeTrue();
    second.next(2);
    second.complete();
    expect([state.busy(), got]).toEqual([false, [1, 2]]);
  });

  it('keeps what was refused of two that were asked together', () => {
    const [first, second] = [new Subject<number>(), new Subject<number>()];
    state.run(first);
    state.run(second);
    first.error(error);
    second.next(2);
    expect(state.error()).toBe(error);
  });

  it('keeps what was refused, at its field too, until something is done', () => {
    const refused = new Subject<number>();
    const failed: ErrorBody[] = [];
    state.run(refused, undefined, (given) => failed.push(given));
    refused.error(error);
    expect([state.busy(), state.error(), failed]).toEqual([false, error, [error]]);
    expect([state.fieldError('name'), state.fieldError('other')]).toEqual(['The name is missing.', null]);
    const done = new Subject<number>();
    state.run(done, () => expect(state.error()).toBeNull());
    expect(state.error()).withContext('while it is asked').toBe(error);
    done.next(1);
    expect(state.error()).toBeNull();
  });
});
