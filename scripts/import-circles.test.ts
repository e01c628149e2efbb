/** Files that read each other in a circle cannot be understood, or moved, one at a time. */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { assert } from 'chai';

const ROOT = fileURLToPath(new URL('..', import.meta.url));

/** What each file of a layer imports of the layer, types included. */
function importsOf(layer: string): Map<string, string[]> {
  const folder = resolve(ROOT, layer, 'src');
  const files = readdirSync(folder, { recursive: true })
    .map((name) => resolve(folder, String(name)))
    .filter((path) => /\.(ts|vue)$/.test(path) && !path.endsWith('.test.ts'));
  const known = new Set(files);
  return new Map(
    files.map((path) => [
      path,
      [...readFileSync(path, 'utf8').matchAll(/from '(\.[^']+)'/g)]
        .map(([, name = '']) => resolve(dirname(path), name))
        .filter((other) => known.has(other)),
    ]),
  );
}

/** The first circle that is found, as paths; empty where there is none. */
function circleIn(imports: ReadonlyMap<string, readonly string[]>): string[] {
  const done = new Set<string>();
  const way: string[] = [];
  const look = (file: string): string[] => {
    const place = way.indexOf(file);
    if (place >= 0) return [...way.slice(place), file];
    if (done.has(file)) return [];
    way.push(file);
    for (const other of imports.get(file) ?? []) {
      const found = look(other);
      if (found.length > 0) return found;
    }
    way.pop();
    done.add(file);
    return [];
  };
  for (const file of imports.keys()) {
    const found = look(file);
    if (found.length > 0) return found.map((path) => relative(ROOT, path));
  }
  return [];
}

describe('imports', () => {
  for (const layer of ['core', 'contract', 'server', 'web', 'cli', 'sample', 'standins']) {
    it(`go in no circle in ${layer}`, () => {
      assert.deepEqual(circleIn(importsOf(layer)), []);
    });
  }

  it('would be found in a circle', () => {
    const imports = new Map([
      [`${ROOT}/a`, [`${ROOT}/b`]],
      [`${ROOT}/b`, [`${ROOT}/c`]],
      [`${ROOT}/c`, [`${ROOT}/b`]],
    ]);
    assert.deepEqual(circleIn(imports), ['b', 'c', 'b']);
  });
});
