import type { FeedRequest, RenditionRequest } from '@juncta/contract/relay';
import { isUnderWay } from '@juncta/core/feeds';
import {
  joinRunning,
  machineFor,
  planProgramme,
  type EncodingMachine,
  type Place,
  type ProgrammePlan,
  type Rendition,
} from '@juncta/core/renditions';
import { beyondLimit } from '@juncta/core/programme';
import type { Show } from '@juncta/contract/shows';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { rulesOfRow } from '../destinations/row-rules';
import { destinationsOfShow, type DestinationRow } from '../destinations/store';
import { Refusal } from '../http/errors';
import type { Relay } from '../relay/relay';

const placeOf = (app: Pick<App, 'rules'>, row: DestinationRow): Place => ({
  id: row.id,
  encoder: rulesOfRow(app, row).capabilities.encoder,
});

/** What a show sends, and what each of its places gets of it. */
export async function planOf(
  app: Pick<App, 'rules'>,
  db: Queryable,
  { id, pictureFormat }: Pick<Show, 'id' | 'pictureFormat'>,
  machine: EncodingMachine | null,
): Promise<{ plan: ProgrammePlan; rows: readonly DestinationRow[] }> {
  const rows = await destinationsOfShow(db, id);
  const places = rows.map((row) => placeOf(app, row));
  return { plan: planProgramme(pictureFormat, places, machine), rows };
}

/** What may be encoded on the relay's machine, beside what outside pictures take of it now. Null: nobody knows. */
export function machineFree(relay: Pick<Relay, 'machine' | 'latestReports'>): EncodingMachine | null {
  const { machine } = relay;
  if (!machine) return null;
  const taken = relay
    .latestReports()
    .flatMap(({ inputs }) => inputs)
    // What is in preview is only converted where it comes in as something that cannot be carried.
    .filter(({ state, figures }) => state === 'as_programme' || figures?.video?.madeFrom != null)
    .reduce((sum, { cores }) => sum + (cores ?? 0), 0);
  return { ...machine, cores: Math.max(0, machine.cores - taken) };
}

/**
 * What goes to one place of a show from now on. What other feeds get is not touched, of this show or of another on the same
 * machine. Throws `not_ready` where there is no room to encode what the place needs.
 */
export async function carriedTo(
  app: Pick<App, 'rules'>,
  db: Queryable,
  relay: Pick<Relay, 'machine' | 'latestReports' | 'reportOf'>,
  show: Show,
  destinationId: string,
): Promise<Pick<FeedRequest, 'rendition'>> {
  const machine = machineFree(relay);
  const { plan, rows } = await planOf(app, db, show, machine);
  const row = rows.find(({ id }) => id === destinationId);
  if (!row) return {};
  const place = placeOf(app, row);
  const running = runningIn(relay.reportOf(show.id), row.id);
  const taken = relay
    .latestReports()
    .flatMap((report) => runningIn(report, row.id))
    .reduce((sum, one) => sum + (machine ? machineFor(plan.programme, machine).coresFor(one) : 0), 0);
  const gets = machine
    ? joinRunning(plan, place, running, machine, machine.cores - taken)
    : plan.unserved.includes(row.id)
      ? ({ kind: 'none' } as const)
      : ({ kind: 'programme' } as const);
  if (gets.kind === 'none') throw new Refusal('not_ready', noRoom(row.name, show, place, machine));
  return gets.kind === 'rendition' ? { rendition: requestOf(gets.rendition, plan.programme) } : {};
}

/** What is encoded of a show for others than this place. */
function runningIn(report: ReturnType<Relay['reportOf']>, besides: string): readonly Rendition[] {
  const feeds = report?.feeds.filter(({ state }) => isUnderWay(state)) ?? [];
  return (report?.renditions ?? []).filter(({ destinationIds }) =>
    feeds.some(({ destinationId }) => destinationId !== besides && destinationIds.includes(destinationId)),
  );
}

function requestOf(rendition: Rendition, programme: Rendition): RenditionRequest {
  const { shape, height, rateHz, videoKbps, keyframeS } = rendition;
  return { shape, height, rateHz, videoKbps, keyframeS, oneIn: Math.round(programme.rateHz / rateHz) };
}

function noRoom(
  name: string,
  { pictureFormat }: Show,
  { encoder }: Place,
  machine: EncodingMachine | null,
): string {
  const beyond = beyondLimit(pictureFormat, encoder);
  const takes =
    beyond === 'shape'
      ? 'an upright picture'
      : beyond === 'size'
        ? `${encoder.maxHeight} lines at most`
        : beyond === 'rate'
          ? `${encoder.maxFramesPerS} frames a second at most`
          : `${encoder.maxKbps} kbit/s at most`;
  const why =
    machine === null || machine.cores === 0
      ? 'the relay encodes nothing apart'
      : 'the relay has no room to encode one more picture';
  return `${name} takes ${takes}, the show has ${beyond === 'shape' ? 'none' : 'more'}, and ${why}. Nothing was started there, and the others go on. End a feed that is encoded apart, or choose a smaller picture for the next show.`;
}
