/** Files that are small and would be large: what a server has to read without falling over. */
import { createDeflateRaw, deflateRawSync } from 'node:zlib';

/** A part of a zip: packed, and what its directory says that it unpacks to. */
export interface ZipPart {
  readonly name: string;
  readonly packed: Buffer;
  readonly declared: number;
}

/** Packs bytes. @param declared what is said of its size; what it is where nothing is said */
export function packedPart(name: string, content: Buffer, declared = content.length): ZipPart {
  return { name, packed: deflateRawSync(content), declared };
}

/** A zip made by hand, so that its directory can say anything. */
export function zipOf(parts: readonly ZipPart[]): Buffer {
  const bodies: Buffer[] = [];
  const directory: Buffer[] = [];
  let at = 0;
  for (const { name, packed, declared } of parts) {
    const local = Buffer.alloc(30);
    local.writeUInt32LE(0x04034b50, 0);
    local.writeUInt16LE(20, 4);
    local.writeUInt16LE(8, 8);
    local.writeUInt32LE(packed.length, 18);
    local.writeUInt32LE(declared, 22);
    local.writeUInt16LE(name.length, 26);
    const central = Buffer.alloc(46);
    central.writeUInt32LE(0x02014b50, 0);
    central.writeUInt16LE(20, 4);
    central.writeUInt16LE(20, 6);
    central.writeUInt16LE(8, 10);
    central.writeUInt32LE(packed.length, 20);
    central.writeUInt32LE(declared, 24);
    central.writeUInt16LE(name.length, 28);
    central.writeUInt32LE(at, 42);
    bodies.push(local, Buffer.from(name), packed);
    directory.push(central, Buffer.from(name));
    at += 30 + name.length + packed.length;
  }
  const central = Buffer.concat(directory);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(parts.length, 8);
  end.writeUInt16LE(parts.length, 10);
  end.writeUInt32LE(central.length, 12);
  end.writeUInt32LE(at, 16);
  return Buffer.concat([...bodies, central, end]);
}

/** A part of one text again and again between a beginning and an end, packed as it is made. */
async function repeated(
  name: string,
  [begin, again, end]: readonly [string, string, string],
  megabytes: number,
): Promise<ZipPart> {
  const chunk = Buffer.from(again.repeat(Math.ceil(1024 ** 2 / again.length)));
  const deflate = createDeflateRaw({ level: 1 });
  const packed: Buffer[] = [];
  const done = (async () => {
    for await (const bytes of deflate) packed.push(bytes as Buffer);
  })();
  const write = (bytes: Buffer): Promise<void> =>
    new Promise((resolve, reject) =>
      deflate.write(bytes, (error) => (error ? reject(error) : resolve())),
    );
  await write(Buffer.from(begin));
  for (let piece = 0; piece < megabytes; piece += 1) await write(chunk);
  await write(Buffer.from(end));
  deflate.end();
  await done;
  return {
    name,
    packed: Buffer.concat(packed),
    declared: begin.length + chunk.length * megabytes + end.length,
  };
}

const text = (name: string, content: string): ZipPart => packedPart(name, Buffer.from(content));
const BOOK = text(
  'xl/workbook.xml',
  '<workbook xmlns:r="r"><sheets><sheet name="A" r:id="s"/></sheets></workbook>',
);
const RELATIONS = text(
  'xl/_rels/workbook.xml.rels',
  '<Relationships><Relationship Id="s" Type="x/worksheet" Target="sheet.xml"/><Relationship Id="t" Type="x/sharedStrings" Target="texts.xml"/></Relationships>',
);
const SHEET = text(
  'xl/sheet.xml',
  '<worksheet><sheetData><row><c><v>1</v></c></row></sheetData></worksheet>',
);
const SHEET_ENDS = ['<worksheet><sheetData>', '</sheetData></worksheet>'] as const;

/** A small file, and a name that says how it would be large. */
export interface Bomb {
  readonly name: string;
  make(): Promise<Buffer>;
}

/** @param megabytes what those unpack to that unpack to very much */
export function bombs(megabytes: number): readonly Bomb[] {
  const texts = async (
    again: string,
    ends: readonly [string, string] = ['<sst>', '</sst>'],
  ): Promise<Buffer> => {
    const part = await repeated('xl/texts.xml', [ends[0], again, ends[1]], megabytes);
    return zipOf([BOOK, RELATIONS, SHEET, part]);
  };
  const sheet = async (again: string, size = megabytes): Promise<Buffer> => {
    const [begin, end] = SHEET_ENDS;
    const part = await repeated('xl/sheet.xml', [begin, again, end], size);
    return zipOf([BOOK, RELATIONS, part]);
  };
  /** Something that does not repeat, so that it is not told by how well it is packed. */
  const odd = Array.from({ length: 4000 }, (_, at) => ((at * 7919) % 9973).toString(36)).join('');
  return [
    {
      name: 'a workbook with one cell in the last column of each row',
      make: () => sheet('<row><c r="XFD1"><v>1</v></c></row>', 24),
    },
    { name: 'texts of a workbook', make: () => texts(`<si><t>${odd}</t></si>`) },
    {
      name: 'empty texts of a workbook',
      make: () => texts('<si/><si><t></t></si>', ['<sst>', '</sst>']),
    },
    {
      name: 'one text of a workbook without an end',
      make: () => texts(odd, ['<sst><si><t>', '</t></si></sst>']),
    },
    { name: 'one cell of a sheet without an end', make: () => sheet(odd) },
    { name: 'a row of a sheet with a million cells', make: () => sheet('<c/>', 24) },
    {
      name: 'a table of 30 rows with 900,000 columns',
      make: () => Promise.resolve(Buffer.from(`${','.repeat(899_999)}1\n`.repeat(30))),
    },
    {
      name: 'JSON of lists in lists',
      make: () => Promise.resolve(Buffer.from(`[${'[1,[2],[3]],'.repeat(2_500_000)}[1]]`)),
    },
    {
      name: 'JSON of objects that all name another column',
      make: () =>
        Promise.resolve(
          Buffer.from(
            `[${Array.from({ length: 400_000 }, (_, at) => `{"column ${at}":${at}}`).join()}]`,
          ),
        ),
    },
  ];
}
