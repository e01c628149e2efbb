/** The parts of a zip on disk, held to what its directory says of them. */
import type { Readable } from 'node:stream';
import yauzl from 'yauzl';
import { badRequest, type HttpProblem } from '../platform/errors.ts';

/** What a workbook may be when it is unpacked; more is an attack or no planner's file. */
const LARGEST_UNPACKED = 1024 ** 3;
const MOST_PARTS = 2000;
/** A part that shrinks to less than this share of itself holds nothing but repetition. */
const HIGHEST_RATIO = 400;
/** Below this size the ratio does not matter. */
const HARMLESS = 32 * 1024 ** 2;

/** An open zip; every part can be read as often as it is asked for. */
export interface ZipParts {
  /** What a part unpacks to, in bytes; nothing when there is no such part. */
  size(name: string): number | undefined;
  /** The bytes of a part. @throws HttpProblem 400 when it is damaged, or is not what it says */
  read(name: string): AsyncGenerator<Buffer>;
  close(): void;
}

const damaged = (): HttpProblem =>
  badRequest('The workbook cannot be unpacked: it is damaged or not complete; upload it again');

/** Reads the whole directory, and refuses a zip that says it is too much. */
function directoryOf(zip: yauzl.ZipFile): Promise<ReadonlyMap<string, yauzl.Entry>> {
  return new Promise((resolve, reject) => {
    const entries = new Map<string, yauzl.Entry>();
    let unpacked = 0;
    zip.on('error', () => reject(damaged()));
    zip.on('entry', (entry: yauzl.Entry) => {
      entries.set(entry.fileName, entry);
      unpacked += entry.uncompressedSize;
      const ratio = entry.uncompressedSize / Math.max(1, entry.compressedSize);
      if (
        unpacked > LARGEST_UNPACKED ||
        entries.size > MOST_PARTS ||
        (entry.uncompressedSize > HARMLESS && ratio > HIGHEST_RATIO)
      ) {
        reject(
          badRequest(
            'The workbook unpacks to far more than it should hold; it was not opened. Save the sheet as CSV instead',
          ),
        );
      } else if (entry.isEncrypted()) {
        reject(
          badRequest(
            'The workbook is protected by a password; save it without one and upload it again',
          ),
        );
      } else zip.readEntry();
    });
    zip.on('end', () => resolve(entries));
    zip.readEntry();
  });
}

/**
 * Opens a zip by its directory; nothing of it is unpacked yet.
 * @throws HttpProblem 400 for what is none, is encrypted, or would unpack to too much
 */
export async function openZip(path: string): Promise<ZipParts> {
  const zip = await new Promise<yauzl.ZipFile>((resolve, reject) => {
    const options = { lazyEntries: true, autoClose: false, validateEntrySizes: true };
    yauzl.open(path, options, (error, opened) => {
      if (error || !opened) reject(damaged());
      else resolve(opened);
    });
  });
  try {
    const entries = await directoryOf(zip);
    async function* read(name: string): AsyncGenerator<Buffer> {
      const entry = entries.get(name);
      if (!entry) throw damaged();
      try {
        // Whoever stops in the middle ends the stream by it.
        for await (const bytes of await streamOf(zip, entry)) yield bytes as Buffer;
      } catch {
        throw damaged();
      }
    }
    return {
      size: (name) => entries.get(name)?.uncompressedSize,
      read,
      close: () => zip.close(),
    };
  } catch (error) {
    zip.close();
    throw error;
  }
}

function streamOf(zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<Readable> {
  return new Promise((resolve, reject) => {
    zip.openReadStream(entry, (error, stream) => {
      if (error || !stream) reject(error ?? damaged());
      else resolve(stream);
    });
  });
}
