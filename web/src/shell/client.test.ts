import { actualsOperations, budgetOperations, driversOperations, MB } from '@dravex/contract';
import { assert } from 'chai';
import fc from 'fast-check';
import { addressOf, callWithFile } from './client.ts';

describe('the address of a request', () => {
  it('has what the path leaves open in its place, and everything else as its query', () => {
    assert.equal(
      addressOf(budgetOperations.readVersionCells, { workspaceId: 3, versionId: 12 }),
      '/workspaces/3/versions/12/cells',
    );
    assert.equal(
      addressOf(actualsOperations.listSalesLines, {
        workspaceId: 1,
        from: '2026-04',
        to: '2026-10',
        seller: undefined,
        limit: 20,
      }),
      '/workspaces/1/sales-lines?from=2026-04&to=2026-10&limit=20',
    );
  });

  it('carries any text whole, in the path and in the query', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1 }), fc.string(), (driver, seller) => {
        fc.pre(!/[\ud800-\udfff]/.test(driver + seller));
        const path = addressOf(driversOperations.dropDriver, { workspaceId: 1, driver });
        assert.equal(decodeURIComponent(path.split('/').at(-1) ?? ''), driver);
        const address = addressOf(actualsOperations.listSalesLines, {
          ...{ workspaceId: 1, from: '2026-04', to: '2026-04' },
          seller,
        });
        assert.equal(new URL(address, 'http://x').searchParams.get('seller'), seller);
      }),
    );
  });
});

describe('a file that is sent', () => {
  const upload = { method: 'post', path: '/x', summary: '', access: 'plans' } as const;
  const operation = { ...upload, file: { what: 'a file', type: 'text/csv', largest: 2 * MB } };
  const page = globalThis as unknown as Record<string, unknown>;
  const had = { http: page['XMLHttpRequest'], kept: page['sessionStorage'] };
  afterEach(() => Object.assign(page, { XMLHttpRequest: had.http, sessionStorage: had.kept }));

  /** A line that breaks so often before it carries something. */
  function lineThatBreaks(times: number): { keys: string[] } {
    const keys: string[] = [];
    class Line extends EventTarget {
      readonly upload = new EventTarget();
      readonly status = 200;
      readonly responseText = '{"id":7}';
      open(): void {
        // Where to is not looked at.
      }
      setRequestHeader(name: string, value: string): void {
        if (name === 'idempotency-key') keys.push(value);
      }
      send(): void {
        const told = keys.length > times ? 'load' : 'error';
        queueMicrotask(() => this.dispatchEvent(new Event(told)));
      }
    }
    const sessionStorage = { getItem: () => 'sitting', setItem: () => undefined };
    Object.assign(page, { XMLHttpRequest: Line, sessionStorage });
    return { keys };
  }

  it('is refused here when it is larger than is taken, and not sent', async () => {
    const { keys } = lineThatBreaks(0);
    const large = new Blob([new Uint8Array(2 * MB + 1)]);
    const told = await callWithFile(operation, {}, large).catch((error: Error) => error.message);
    assert.include(String(told), 'The file has 3 MB; up to 2 MB are accepted');
    assert.isEmpty(keys);
  });

  it('is sent again under the same key when the line breaks', async () => {
    const { keys } = lineThatBreaks(2);
    assert.deepEqual(await callWithFile(operation, {}, new Blob(['x'])), { id: 7 });
    assert.lengthOf(keys, 3);
    assert.lengthOf(new Set(keys), 1);
  });
});
