/** The same text for the same members in whatever order they were named. */
export function scopeKey(scope: readonly number[]): string {
  return scope.length < 2 ? String(scope[0] ?? '') : [...scope].sort((a, b) => a - b).join();
}
