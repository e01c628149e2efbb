/** A code made from what stands in a file: `Web Shop 2` becomes `web-shop-2`. */
export function codeFrom(text: string): string {
  const trimmed = text.trim();
  if (/^[\p{L}\p{N}][\p{L}\p{N}._-]{0,59}$/u.test(trimmed)) return trimmed;
  const code = trimmed
    .toLowerCase()
    .replaceAll(/[^\p{L}\p{N}]+/gu, '-')
    .replaceAll(/^-+|-+$/g, '')
    .slice(0, 60);
  return code === '' ? 'member' : code;
}
