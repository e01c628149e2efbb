import { fileURLToPath } from 'node:url';

/** The folder of Ondwell's files, as `dravex load` takes it. */
export const SAMPLE_FOLDER = fileURLToPath(new URL('../data', import.meta.url));
/** A file of sales lines of which some are faulty, to try an import with. */
export const FAULTY_FILE = fileURLToPath(new URL('../try/sales-with-faults.csv', import.meta.url));
