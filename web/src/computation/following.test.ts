import type { AddressInfo } from 'node:net';
import type {
  Changes,
  ConnectionRun,
  Version,
  VersionCells,
  WorkspacePlan,
} from '@dravex/contract';
import { RESULTS, monthFrom, ACTUAL, FORECAST, versionSource, type Source } from '@dravex/core';
import { orderBook, sampleDocuments } from '@dravex/standins';
import { assert } from 'chai';
import { KINDS } from '../../../server/src/journal/things.ts';
import { changesOfEveryKind } from '../../../server/src/testing/every-change.ts';
import { SAMPLE, withSample, until, type Visitor } from '../../../server/src/testing/serve.ts';
import { startComputation } from './computation.ts';

/** What a browser holds of a workspace, read once and kept up by the change notices alone. */
class Follower {
  readonly #computation = startComputation();
  #revision = 0;
  #problems: unknown;
  #versions: readonly Version[] = [];
  #targets = '';
  /** Whether everything is to be read anew before anything is shown. */
  #stale = false;

  constructor(readonly visitor: Visitor) {}

  async #read<T>(path: string): Promise<T> {
    const { status, body, text } = await this.visitor.send<T>('GET', `${SAMPLE}${path}`);
    assert.equal(status, 200, text);
    return body;
  }

  async #readVersions(): Promise<void> {
    this.#versions = await this.#read<Version[]>('/versions');
    for (const { id, lastEntry } of this.#versions) {
      if (this.#computation.hasVersion({ id }, lastEntry)) continue;
      const cells = await this.#read<VersionCells>(`/versions/${id}/cells`);
      this.#computation.setVersion({ id }, lastEntry, cells);
    }
  }

  async #readTargets(): Promise<void> {
    this.#targets = JSON.stringify(await this.#read('/targets/2027'));
  }

  async load(): Promise<void> {
    this.#stale = false;
    const loaded = await this.#read<WorkspacePlan>('/plan');
    this.#problems = this.#computation.load(loaded);
    this.#revision = loaded.revision;
    await this.#readVersions();
    await this.#readTargets();
  }

  /** @returns whether everything is to be read anew; then it is a fresh load itself */
  async follow(): Promise<boolean> {
    const changes = await this.#read<Changes>(`/changes?since=${this.#revision}`);
    if (changes.whole) {
      this.#revision = changes.revision;
      this.#stale = true;
      return true;
    }
    if (this.#stale) await this.load();
    if (changes.revision === this.#revision) return false;
    this.#problems = this.#computation.merge(changes);
    if (changes.versions.length > 0) await this.#readVersions();
    // Rooms that ask the server ask again whenever anything changed.
    await this.#readTargets();
    this.#revision = changes.revision;
    return false;
  }

  /** Everything that it could show, each as a text. */
  holds(): Readonly<Record<string, string>> {
    const table = (source: Source, measure: (typeof RESULTS)[number]) =>
      this.#computation.table(source, {
        measure,
        rows: ['channel', 'product', 'group', 'region'],
        columns: 'time',
        scope: [],
        span: { from: monthFrom('2026-07'), to: monthFrom('2027-06') },
        grain: 'month',
      });
    const held = {
      revision: this.#revision,
      problems: this.#problems,
      tables: RESULTS.map((measure) => [table(ACTUAL, measure), table(FORECAST, measure)]),
      versions: this.#versions.map((version) => [
        version,
        table(versionSource(version.id), 'revenue'),
      ]),
      streams: this.#computation.streamsIn([]),
      overrides: this.#computation.overrides(),
      drivers: this.#computation.driverUses(),
      notForecast: this.#computation.notForecast(),
      targets: this.#targets,
    };
    return Object.fromEntries(
      Object.entries(held).map(([name, value]) => [name, JSON.stringify(value)]),
    );
  }
}

describe('a browser that follows the change notices', () => {
  const sample = withSample();
  let follower: Follower;
  before(async () => {
    follower = new Follower(await sample.served.reader());
    await follower.load();
  });

  async function isUpToDate(after: string): Promise<void> {
    if (await follower.follow()) return;
    const fresh = new Follower(follower.visitor);
    await fresh.load();
    assert.deepEqual(follower.holds(), fresh.holds(), after);
  }

  it('holds what a fresh load holds, after any change, its undo and its redo', async () => {
    const steps = await changesOfEveryKind(sample.planner);
    await isUpToDate('what the changes rest on');
    for (const step of steps) {
      const path = await step(sample.planner);
      await isUpToDate(path);
      for (const turn of ['undo', 'redo']) {
        const { status, text } = await sample.planner.send('POST', `${SAMPLE}/${turn}`);
        assert.equal(status, 200, `${turn} of ${path}: ${text}`);
        await isUpToDate(`${turn} of ${path}`);
      }
    }
  }).timeout(240_000);

  it('hears of what a connected order book brings', async () => {
    const key = 'the-order-book-and-its-key';
    const book = orderBook(key, sampleDocuments(40));
    await new Promise<void>((resolve) => book.server.listen(0, '127.0.0.1', resolve));
    try {
      const url = `http://127.0.0.1:${(book.server.address() as AddressInfo).port}`;
      const made = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/connections`, {
        name: 'Order book',
        url,
        key,
        everyMinutes: 60,
      });
      assert.equal(made.status, 201, made.text);
      await isUpToDate('a connection');
      const path = `${SAMPLE}/connections/${made.body.id}`;
      assert.equal((await sample.planner.send('POST', `${path}/run`)).status, 204);
      await until(async () => {
        const { body } = await sample.planner.send<ConnectionRun[]>('GET', `${path}/runs`);
        return body.length > 0 && body[0]?.state !== 'running';
      }, 'the run ends');
      await isUpToDate('a run of it');
    } finally {
      book.server.closeAllConnections();
      await new Promise((resolve) => book.server.close(resolve));
    }
  }).timeout(30_000);

  it('leaves out no kind of thing that anybody is shown', async () => {
    const { rows } = await sample.served.connections.pool.query<{ thing: string }>(
      'select distinct thing from journal_change where workspace_id = 1',
    );
    const shown = Object.entries(KINDS).filter(([, { affects }]) => affects !== 'nothing');
    assert.includeMembers(
      rows.map(({ thing }) => thing),
      shown.map(([kind]) => kind),
    );
  });
});
