import type { ErrorBody } from '@juncta/contract/errors';
import { TICKET_RENEWED_EVERY_MS } from '@juncta/contract/uplink';
import { TicketRenewal, type Ticket } from './ticket-renewal';

describe('the renewal of a composing desk’s ticket', () => {
  const ticket: Ticket = { ticket: 't', uplinkUrl: 'wss://relay.example/uplink' };
  const refusal = (code: ErrorBody['code']): ErrorBody => ({ code, sentence: `Refused: ${code}.` });
  let answers: (Ticket | ErrorBody)[];
  let told: string[];
  let asked: number;
  let renewal: TicketRenewal;

  beforeEach(() => {
    jasmine.clock().install();
    answers = [];
    told = [];
    asked = 0;
    renewal = new TicketRenewal({
      ask: () => {
        asked += 1;
        const answer = answers.shift() ?? ticket;
        // As the API does it: what is refused is no Error.
        // eslint-disable-next-line @typescript-eslint/prefer-promise-reject-errors
        return 'code' in answer ? Promise.reject(answer) : Promise.resolve(answer);
      },
      renewed: (_ticket, wasRefused) => told.push(wasRefused ? 'renewed, as was wanted' : 'renewed'),
      takenOver: (sentence) => told.push(`taken over: ${sentence}`),
      failed: (sentence) => told.push(sentence),
    });
  });
  afterEach(() => {
    renewal.stop();
    jasmine.clock().uninstall();
  });

  const passes = async (ms: number) => {
    jasmine.clock().tick(ms);
    for (let i = 0; i < 5; i++) await Promise.resolve();
  };

  it('comes long before it runs out, again and again', async () => {
    renewal.begin();
    await passes(TICKET_RENEWED_EVERY_MS - 1);
    expect(asked).toBe(0);
    await passes(1);
    await passes(TICKET_RENEWED_EVERY_MS);
    expect(told).toEqual(['renewed', 'renewed']);
  });

  it('is tried on without a word while the old one is good, and sooner and aloud when the relay refused it', async () => {
    answers = [refusal('closing'), ticket, refusal('signed_out'), ticket];
    renewal.begin();
    await passes(TICKET_RENEWED_EVERY_MS);
    expect(told).toEqual([]);
    await passes(15_000);
    expect(told).toEqual(['renewed']);
    await renewal.now(true);
    await passes(3000);
    expect(told).toEqual(['renewed', 'Refused: signed_out.', 'renewed, as was wanted']);
  });

  it('ends when another desk composes, and when it is wanted no longer', async () => {
    answers = [refusal('composed_elsewhere')];
    renewal.begin();
    await passes(TICKET_RENEWED_EVERY_MS);
    await passes(TICKET_RENEWED_EVERY_MS);
    expect([told, asked]).toEqual([['taken over: Refused: composed_elsewhere.'], 1]);
    const late = renewal.now(false);
    renewal.stop();
    await late;
    expect([told.length, asked]).toEqual([1, 2]);
  });
});
