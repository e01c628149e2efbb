/** The pages of `docs/help`, made HTML when the application is built; each is fetched when it is read. */
const pages = import.meta.glob<string>('../../../docs/help/*.md', { import: 'default' });

/** A page of help as HTML; undefined where there is none of that name. */
export function helpPage(name: string): Promise<string> | undefined {
  return pages[`../../../docs/help/${name}.md`]?.();
}
