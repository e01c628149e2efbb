/** Tables in XLSX workbooks, read by the row from a file on disk. */
import { badRequest } from '../platform/errors.ts';
import type { RawRow } from './raw-row.ts';
import {
  readDayStyles,
  readRelations,
  readRows,
  readSheetList,
  readTexts,
  type SheetTerms,
} from './workbook-xml.ts';
import { openZip, type ZipParts } from './zip-parts.ts';

/** A workbook on disk; what is open of it is let go when its thread ends. */
export interface Workbook {
  readonly sheets: readonly string[];
  rows(sheet: string): AsyncGenerator<RawRow[]>;
}

/** Says what a file that is no workbook is. */
export function refuseOldWorkbook(): never {
  throw badRequest(
    'The workbook is protected by a password, or in the old binary format; save it as XLSX without a password and upload it again',
  );
}

/** What is in a workbook: its sheets by name, and what their cells are read by. */
interface Contents {
  readonly parts: ReadonlyMap<string, string>;
  readonly terms: SheetTerms;
}

async function contentsOf(zip: ZipParts): Promise<Contents> {
  const parts = new Map<string, string>();
  const book = 'xl/workbook.xml';
  const known = 'xl/_rels/workbook.xml.rels';
  if (zip.size(book) === undefined) {
    throw badRequest('The file is packed, but no XLSX workbook; save it as XLSX or CSV');
  }
  const { sheets, from1904 } = await readSheetList(zip.read(book));
  const relations = zip.size(known) === undefined ? [] : await readRelations(zip.read(known));
  for (const { name, relation } of sheets) {
    const found = relations.find(({ id }) => id === relation);
    if (found?.type === 'worksheet' && zip.size(found.part) !== undefined) {
      parts.set(name, found.part);
    }
  }
  if (parts.size === 0) {
    throw badRequest('The workbook has no sheet with cells; save it as XLSX or CSV');
  }
  const partOf = (type: string): string | undefined => {
    const part = relations.find((relation) => relation.type === type)?.part;
    return part !== undefined && zip.size(part) !== undefined ? part : undefined;
  };
  const [texts, styles] = [partOf('sharedStrings'), partOf('styles')];
  return {
    parts,
    terms: {
      texts: texts === undefined ? [] : await readTexts(zip.read(texts)),
      dayStyles: styles === undefined ? [] : await readDayStyles(zip.read(styles)),
      from1904,
    },
  };
}

/**
 * Opens a workbook on disk.
 * @throws HttpProblem 400 for what is none, or is too much
 */
export async function openWorkbook(path: string): Promise<Workbook> {
  const zip = await openZip(path);
  try {
    const { parts, terms } = await contentsOf(zip);
    const rows = (sheet: string): AsyncGenerator<RawRow[]> =>
      readRows(zip.read(parts.get(sheet) ?? ''), terms);
    return { sheets: [...parts.keys()], rows };
  } catch (error) {
    zip.close();
    throw error;
  }
}
