import { actualsOperations, budgetOperations, driversOperations } from '@dravex/contract';
import { assert } from 'chai';
import fc from 'fast-check';
import { addressOf } from './client.ts';

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
