/** Forms that were saved as CSV: read into fields, and written again. */

/** The lines of a CSV as fields, each as it stands there. */
export const fieldsOf = (bytes: Buffer): string[][] =>
  bytes
    .toString()
    .replace('\uFEFF', '')
    .split('\r\n')
    .filter((line) => line !== '')
    .map((line) => line.split(/,(?=(?:[^"]*"[^"]*")*[^"]*$)/));

/** Lines of fields as a CSV. */
export const toText = (lines: readonly (readonly string[])[]): string =>
  lines.map((line) => line.join(',')).join('\r\n');

/** Which field of a line stands under a heading. */
export const columnOf = (lines: readonly string[][], head: string): number =>
  lines[0]?.indexOf(head) ?? -1;
