import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { FEED_STATES } from '@juncta/core/feeds';
import { PHASES } from '@juncta/core/shows';
import { phaseNames } from '../../shows/shows.texts';
import { ArmedKey } from '../keys/armed-key';
import { CopyKey } from '../keys/copy-key';
import { FieldProblem } from '../field-problem';
import { Key, type Lamp } from '../keys/key';
import { feedStateNames } from '../look.texts';
import { Notice } from '../notice';
import { StateMark } from '../state-mark';
import { TILE_PATTERNS } from '@juncta/core/destinations';
import { Tile } from '../tile';
import { TimeFigure } from '../time/time-figure';
import { TimeLine, type LineMark } from '../time/time-line';

const HOUR = 3_600_000;
/** Any moment will do: the page shows how things look, not when they are. */
const NOON = Date.UTC(2026, 10, 26, 12);

/** All pieces of the look, in every state and both rooms: for whoever builds a page, and for the checks. */
@Component({
  selector: 'jn-pieces-page',
  imports: [ArmedKey, CopyKey, FieldProblem, Key, Notice, StateMark, Tile, TimeFigure, TimeLine],
  templateUrl: './pieces.page.html',
  styleUrl: './pieces.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PiecesPage {
  protected readonly lamps: readonly { lamp: Lamp; says: string; shortcut: string }[] = [
    { lamp: 'dark', says: '', shortcut: 'A' },
    { lamp: 'lit', says: 'on', shortcut: 'B' },
    { lamp: 'working', says: 'dialling', shortcut: 'C' },
    { lamp: 'armed', says: 'armed', shortcut: 'D' },
    { lamp: 'tally', says: 'on air', shortcut: 'E' },
  ];
  protected readonly patterns = TILE_PATTERNS;
  protected readonly phases = PHASES;
  protected readonly phaseNames = phaseNames;
  protected readonly feedStates = FEED_STATES;
  protected readonly feedStateNames = feedStateNames;
  protected readonly rooms = ['day', 'night'] as const;
  protected readonly nowMs = NOON;
  protected readonly from = NOON - HOUR;
  protected readonly to = NOON + 8 * HOUR;
  protected readonly fired = signal(0);
  protected readonly marks: readonly LineMark[] = (
    ['wrap', 'live', 'overdue', 'ready', 'prepare', 'plan'] as const
  ).map((phase, i) => ({
    id: phase,
    atMs: NOON + (i - 0.6) * 1.3 * HOUR,
    lengthMs: HOUR / 2,
    name: phaseNames[phase],
    state: `phase.${phase}` as const,
  }));
}
