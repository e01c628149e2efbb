/** A plan file of a given size, for serving a large workspace. */
import { writeFileSync } from 'node:fs';
import { planOf } from './plan.ts';

const [path = '', streams = '2000'] = process.argv.slice(2);
const plan = planOf(Number(streams));
const file = { dravex: 1, name: 'Bench', locale: 'en-IE', plan, versions: [], targets: [] };
writeFileSync(path, JSON.stringify(file));
