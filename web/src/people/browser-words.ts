/** Browsers and systems by what they call themselves; those that others claim to be come last. */
const BROWSERS: readonly [RegExp, string][] = [
  [/Edg\//, 'Edge'],
  [/OPR\//, 'Opera'],
  [/Firefox\//, 'Firefox'],
  [/Chrome\//, 'Chrome'],
  [/Safari\//, 'Safari'],
];
const SYSTEMS: readonly [RegExp, string][] = [
  [/Windows/, 'Windows'],
  [/iPhone|iPad/, 'iOS'],
  [/Android/, 'Android'],
  [/Mac OS X/, 'macOS'],
  [/Linux/, 'Linux'],
];
const named = (list: readonly [RegExp, string][], text: string): string | undefined =>
  list.find(([sign]) => sign.test(text))?.[1];

/** A browser in words: `Firefox on Windows`. @param agent as it calls itself */
export function browserInWords(agent: string): string {
  const [browser, system] = [named(BROWSERS, agent), named(SYSTEMS, agent)];
  if (browser === undefined) return agent === '' ? 'unknown' : agent.slice(0, 40);
  return system === undefined ? browser : `${browser} on ${system}`;
}
