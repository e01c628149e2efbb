/** The name a request goes by when it is sent again, and what it asked. */
export interface RequestKey {
  readonly key: string;
  /** A hash of what was asked: the same key for something else is refused. */
  readonly fingerprint: string;
}
