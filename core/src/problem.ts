/** Something that is wrong with a plan, as data: a plan with ten mistakes reports ten. */
export interface Problem {
  readonly code: string;
  /** What happened, where, and what to do, in one sentence. */
  readonly message: string;
  readonly where: Readonly<Record<string, string | number>>;
}
