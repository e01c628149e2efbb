import type { ImportBatch } from '@dravex/contract';
import type { BatchRow } from './store.ts';

/** A batch as the wire has it. */
export function toBatch(row: BatchRow): ImportBatch {
  const { job } = row;
  return {
    id: row.id,
    kind: row.kind,
    source: row.source,
    fileName: row.fileName,
    state: row.state,
    rows: row.rows,
    good: row.good,
    faulty: row.faulty,
    createdAt: row.createdAt.toISOString(),
    createdBy: row.createdByName,
    appliedAt: row.appliedAt?.toISOString() ?? null,
    job: job && { state: job.state, step: job.step, steps: job.steps, message: job.message },
  };
}
