/**
 * `npm run schema`: writes what is published of the contract: the JSON Schema of plan files, and who
 * may what. Tests say when they are behind.
 */
import { writeFileSync } from 'node:fs';
import { API, planFileJsonSchema, rolesPage } from '@dravex/contract';
import { ROOT } from './places.mjs';

writeFileSync(
  `${ROOT}/docs/plan-file.schema.json`,
  `${JSON.stringify(planFileJsonSchema(), null, 2)}\n`,
);
writeFileSync(`${ROOT}/docs/roles.md`, rolesPage(API));
