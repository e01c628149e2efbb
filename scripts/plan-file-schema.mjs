/** `npm run schema`: writes the published JSON Schema of plan files; a test says when it is behind. */
import { writeFileSync } from 'node:fs';
import { planFileJsonSchema } from '@dravex/contract';
import { ROOT } from './places.mjs';

writeFileSync(
  `${ROOT}/docs/plan-file.schema.json`,
  `${JSON.stringify(planFileJsonSchema(), null, 2)}\n`,
);
