import { assert } from 'chai';
import { serializeError, withoutQuery } from './log.ts';

describe('the log', () => {
  it('has no query of an address', () => {
    assert.equal(withoutQuery('/api/workspaces/1/table?token=secret'), '/api/workspaces/1/table');
    assert.equal(withoutQuery(undefined), '');
  });

  it('names what failed, and no parameter of it', () => {
    const cause = Object.assign(new Error('duplicate key value'), { code: '23505' });
    const failed = Object.assign(
      new Error('Failed query: insert into person values ($1)\nparams: secret@ondwell.example', {
        cause,
      }),
      { query: 'insert into person values ($1)', params: ['secret@ondwell.example'] },
    );
    const text = JSON.stringify(serializeError(failed));
    assert.include(text, 'duplicate key value');
    assert.include(text, '23505');
    assert.notInclude(text, 'secret@');
    assert.notInclude(
      JSON.stringify(serializeError(new Error('Failed query: x\nparams: secret@a'))),
      'secret@',
    );
  });
});
