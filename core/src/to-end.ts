/** Does work that is told step by step without a pause. @returns what it makes */
export function toEnd<T>(steps: Generator<unknown, T>): T {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}
