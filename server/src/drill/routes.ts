import {
  causeFault,
  endDrill,
  publishDrilled,
  readDrill,
  runScript,
  startDrill,
  type DrillFaultRequest,
  type DrillRequest,
} from '@juncta/contract/drill';
import { faultProblem, HOUSE_FAULTS, type HouseFaultKind } from '@juncta/core/drill';
import type { Router } from 'express';
import type { App } from '../app';
import { connectorOf } from '../destinations/connectors';
import { destinationsOfShow } from '../destinations/store';
import { badInput, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { relayAway, type RelayClient } from '../relay/relay-client';
import { findOpenRun } from '../programme/store';
import { killProcess } from './supervisor';

const SENTENCES = {
  place: 'Say at which place, where it is a fault of a place, and only there.',
  seconds: 'It holds for 1 to 120 s; what happens once has 0.',
};
/** After whoever asked has the answer. */
const DEATH_AFTER_MS = 200;

/** Drills: see `contract/drill`. The relay plays the places; what dies of the house is ended by the supervisor. */
export function mountDrill(router: Router, app: App): void {
  const relay = (): RelayClient => {
    if (!app.relay) throw relayAway();
    return app.relay.client;
  };

  mount(router, app, readDrill, ({ params: { showId } }) => relay().drill(showId));

  mount(router, app, startDrill, async ({ params: { showId } }) => {
    if (await findOpenRun(app.db, showId))
      throw new Refusal('not_ready', 'The show runs. A drill is for before it, or after.');
    const client = relay();
    if ((await client.report(showId)).state === 'waiting')
      throw new Refusal('not_ready', 'There is no picture at the relay yet. Compose the programme first.');
    const request = await placesOf(app, showId);
    if (request.places.length === 0)
      throw new Refusal('not_ready', 'The show goes nowhere yet. Choose its destinations in the plan.');
    return client.beginDrill(showId, request);
  });

  mount(router, app, causeFault, async ({ params: { showId }, body, memberId }) => {
    const problem = faultProblem(body);
    if (problem) {
      const field = problem === 'place' ? 'destinationId' : 'seconds';
      throw badInput([{ field, code: problem, sentence: SENTENCES[problem] }]);
    }
    const client = relay();
    const { drill } = await client.drill(showId);
    if (drill?.endedAtMs !== null) throw new Refusal('not_ready', 'No drill goes on. Begin one first.');
    app.log.info({ show: showId, member: memberId, fault: body.kind }, 'drill');
    const answer = await client.causeFault(showId, body);
    await ofTheHouse(app, body);
    return answer;
  });

  mount(router, app, runScript, ({ params: { showId } }) => relay().runScript(showId));
  mount(router, app, endDrill, ({ params: { showId } }) => relay().endDrill(showId));
  mount(router, app, publishDrilled, ({ params: { showId }, body }) =>
    relay().publishDrilled(showId, body.destinationId),
  );
}

/** The show's places, and what of their rules a drill plays. */
async function placesOf(app: App, showId: string): Promise<DrillRequest> {
  const rows = await destinationsOfShow(app.db, showId);
  return {
    places: rows.map(({ id, kind }) => {
      const { feedLoss } = app.rules.of(kind).capabilities;
      const { patienceS, then, cleanEndEnds } = feedLoss;
      const { arrival } = connectorOf(kind);
      return { destinationId: id, rules: { arrival, patienceS, then, cleanEndEnds: cleanEndEnds === 'yes' } };
    }),
  };
}

/** Ends a process of the house, where that is the fault; the relay ends itself. */
async function ofTheHouse(app: App, { kind }: DrillFaultRequest): Promise<void> {
  if (!(HOUSE_FAULTS as readonly string[]).includes(kind) || kind === 'relay_dies') return;
  if (kind === 'server_dies') {
    setTimeout(() => process.kill(process.pid, 'SIGKILL'), DEATH_AFTER_MS);
    return;
  }
  const name = PROCESS_OF[kind as Exclude<HouseFaultKind, 'server_dies' | 'relay_dies'>];
  if (!(await killProcess(app.config.supervisor, name)))
    throw new Refusal(
      'not_ready',
      'This house is not run by its start command, so nobody here can end that process.',
    );
}

const PROCESS_OF = { room_dies: 'janus', database_dies: 'database' } as const;
