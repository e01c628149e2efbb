/** The worker in which the core runs, so that the page stays live whatever is computed. */
import { expose } from 'comlink';
import { Computation } from './computation.ts';

expose(new Computation());
