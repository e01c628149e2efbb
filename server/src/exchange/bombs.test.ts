/** Small files that would be large, sent to a server that is watched: it answers others meanwhile. */
import { assert } from 'chai';
import { bombs } from '../testing/bombs.ts';
import { SAMPLE } from '../testing/serve.ts';
import { startWatched, type WatchedServer } from '../testing/watched-server.ts';

const [HELD_MS, MEMORY_MB] = [200, 400];
/** What they unpack to; `npm run strain -- bombs` has more. */
const UNPACKED_MB = Number(process.env['BOMB_MB'] ?? 300);

describe('small files that would be large', function () {
  this.timeout(600_000);
  let server: WatchedServer;
  before(async () => {
    server = await startWatched();
    // What a first request needs is there.
    await server.planner.send('GET', `${SAMPLE}/imports`);
  });
  after(() => server.close());

  for (const { name, make } of bombs(UNPACKED_MB)) {
    it(`${name}: refused, or read within bounds`, async () => {
      const bytes = await make();
      for (const path of ['/imports/look', '/imports']) {
        const { heldMs, memoryMb, result } = await server.watching(() =>
          server.planner.sendFile(`${SAMPLE}${path}?fileName=bomb.xlsx`, bytes),
        );
        const { status, text } = result;
        assert.isTrue([200, 201, 400, 413].includes(status), `${status}: ${text.slice(0, 300)}`);
        const said = `${Math.round(heldMs)} ms, ${Math.round(memoryMb)} MB: ${text.slice(0, 100)}`;
        assert.isAtMost(heldMs, HELD_MS, said);
        assert.isAtMost(memoryMb, MEMORY_MB, said);
      }
    });
  }
});
