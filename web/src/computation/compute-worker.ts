/** The worker in which the core runs, so that the page stays live whatever is computed. */
import { expose } from 'comlink';
import { startComputation } from './computation.ts';

expose(startComputation());
