/** The layer rule is only worth something if breaking it fails. */
import { assert } from 'chai';
import { ESLint } from 'eslint';

const eslint = new ESLint();

async function rulesBroken(filePath: string, text: string): Promise<(string | null)[]> {
  const [result] = await eslint.lintText(text, { filePath });
  return (result?.messages ?? []).map(({ ruleId }) => ruleId);
}

const use = (name: string): string => `import { x } from '${name}';\nexport const y = x;\n`;

describe('the layer rule', () => {
  const forbidden: [string, string][] = [
    ['core', '@dravex/contract'],
    ['core', '@dravex/server'],
    ['contract', '@dravex/server'],
    ['server', '@dravex/web'],
    ['web', '@dravex/server'],
    ['web', '@dravex/cli'],
    ['cli', '@dravex/server'],
    ['sample', '@dravex/server'],
    ['web', '../../server/src/people/actor.ts'],
    ['server', '@dravex/core/src/index.ts'],
  ];
  for (const [layer, name] of forbidden) {
    it(`keeps ${layer} from importing ${name}`, async () => {
      assert.include(
        await rulesBroken(`${layer}/src/somewhere.ts`, use(name)),
        'no-restricted-imports',
      );
    });
  }

  it('keeps the platform of the server from knowing a room', async () => {
    assert.include(
      await rulesBroken('server/src/platform/somewhere.ts', use('../people/actor.ts')),
      'no-restricted-imports',
    );
  });

  it('keeps a room of the server from knowing those that come after it', async () => {
    const room = 'server/src/actuals/somewhere.ts';
    assert.include(
      await rulesBroken(room, use('../forecast/streams.ts')),
      'no-restricted-imports',
      'what a later room does',
    );
    assert.isEmpty(await rulesBroken(room, use('../forecast/tables.ts')), 'how it is kept');
    assert.isEmpty(await rulesBroken(room, use('../dimensions/service.ts')), 'an earlier one');
  });

  it('lets layers import what they may', async () => {
    for (const [layer, name] of [
      ['contract', '@dravex/core'],
      ['server', '@dravex/contract'],
      ['web', '@dravex/core'],
      ['cli', '@dravex/contract'],
    ]) {
      assert.isEmpty(await rulesBroken(`${layer}/src/somewhere.ts`, use(name ?? '')), layer);
    }
  });

  it('keeps clock, chance and the page out of the core', async () => {
    const text = 'export const x = [Math.random(), Date.now(), window, process, fetch];\n';
    const broken = await rulesBroken('core/src/somewhere.ts', text);
    assert.equal(broken.length, 5);
  });
});
