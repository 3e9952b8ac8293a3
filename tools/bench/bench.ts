/** What a bench prints: one JSON object on one line, flat, with the units in the names of the figures. */
export type Figures = Readonly<Record<string, number | string>>;

export interface Bench {
  /** One line, for `--list`. */
  readonly about: string;
  run(): Promise<Figures>;
}
