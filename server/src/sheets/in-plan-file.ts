/** Budget sheets of a plan file, with what was said of their lines. */
import { randomUUID } from 'node:crypto';
import type { FilePart } from '../journal/file-part.ts';
import { putNamed } from '../journal/named.ts';
import { badRequest } from '../platform/errors.ts';
import { linesOf, sheetsOf } from './store.ts';
import { SHEET, SHEET_LINE } from './thing.ts';

export const sheetsInPlanFile: FilePart = {
  async give(db, workspaceId) {
    const sheets = await Promise.all(
      (await sheetsOf(db, workspaceId)).map(async ({ id, kept: { person: _, ...kept } }) => {
        const lines = await linesOf(db, workspaceId, id);
        return { ...kept, lines: lines.map(({ kept: { sheet: __, ...line } }) => line) };
      }),
    );
    return { sheets };
  },
  async take({ tx, workspaceId, personId, file, members, version }) {
    const codes = new Set(file.plan.dimensions.map(({ code }) => code));
    for (const [index, { lines, ...sheet }] of file.sheets.entries()) {
      const path = `sheets.${index}`;
      const unknown = sheet.rows.find((code) => !codes.has(code));
      if (unknown !== undefined) {
        const message = `The sheet ${sheet.title} has lines by "${unknown}", which is no dimension`;
        throw badRequest(message, [{ path: `${path}.rows`, message }]);
      }
      const id = randomUUID();
      const at = { workspaceId, personId };
      // Whose it was is somebody of the installation that it came from.
      await putNamed(tx, SHEET, at, id, {
        ...{ ...sheet, person: personId },
        ...{ scope: members(sheet.scope), version: version(sheet.version, `${path}.version`) },
      });
      for (const line of lines) {
        const cells = { ...line, sheet: id, scope: members(line.scope) };
        await putNamed(tx, SHEET_LINE, at, randomUUID(), cells);
      }
    }
  },
};
