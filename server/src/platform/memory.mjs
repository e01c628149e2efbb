// How a server process is started so that it keeps to little memory: its heap is small from the
// start, instead of growing while there is room, and its threads share what they hand back.
// HEAP_MB raises it for a company whose plans need more; see docs/operations.md.

/** The heap of a server process in megabytes, where nothing else is said. */
const HEAP_MB = 256;

/**
 * @param {Record<string, string | undefined>} environment
 * @returns {string[]} arguments for Node.js
 */
export function memoryFlags(environment) {
  const heap = Number(environment['HEAP_MB'] ?? HEAP_MB);
  return [`--max-old-space-size=${heap}`, '--max-semi-space-size=4'];
}

/** What the C library is told: to share what threads hand back, and to give it back at once. */
export const MEMORY_ENVIRONMENT = {
  MALLOC_ARENA_MAX: '2',
  MALLOC_MMAP_THRESHOLD_: '131072',
  MALLOC_TRIM_THRESHOLD_: '131072',
};
