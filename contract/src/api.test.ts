import { assert } from 'chai';
import { z } from 'zod';
import { API } from './api.ts';
import type { Operation } from './operation.ts';

const PLAN_FILE = 'planFile.loadPlanFile';
const all = Object.entries(API).flatMap(([room, operationsOfRoom]) =>
  Object.entries(operationsOfRoom).map(([name, operation]) => ({
    name: `${room}.${name}`,
    operation,
  })),
);

/** The objects of a JSON schema that take names nobody described. */
function looseIn(schema: unknown, where: string): string[] {
  if (Array.isArray(schema)) return schema.flatMap((one, at) => looseIn(one, `${where}.${at}`));
  if (typeof schema !== 'object' || schema === null) return [];
  const fields = schema as Record<string, unknown>;
  const loose =
    fields['type'] === 'object' &&
    'properties' in fields &&
    fields['additionalProperties'] !== false;
  return [
    ...(loose ? [where] : []),
    ...Object.entries(fields).flatMap(([key, value]) => looseIn(value, `${where}.${key}`)),
  ];
}

const schemaOf = (schema: z.ZodType): unknown =>
  z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' });

describe('the contract', () => {
  it('has one operation for a method and a path', () => {
    const places = all.map(({ operation: { method, path } }) => `${method} ${path}`);
    assert.lengthOf(new Set(places), places.length);
  });

  it('says of every operation what it does and what it answers', () => {
    for (const { name, operation } of all) {
      assert.isNotEmpty(operation.summary, name);
      assert.isFalse(operation.answer !== undefined && operation.writes !== undefined, name);
      if (operation.method === 'get') {
        assert.isTrue(operation.answer !== undefined || operation.writes !== undefined, name);
        assert.isUndefined(operation.body, `${name} reads`);
      }
    }
  });

  it('lets who only reads write nothing but tokens to read by', () => {
    const writing = ({ method, access, path }: Operation): boolean =>
      method !== 'get' && access === 'reads' && path.includes('{workspaceId}');
    assert.deepEqual(
      all.filter(({ operation }) => writing(operation)).map(({ name }) => name),
      ['reporting.makeToken', 'reporting.withdrawToken'],
    );
  });

  it('takes nothing that it does not know, in a body or an address', () => {
    const loose = all.flatMap(({ name, operation: { body, query } }) => [
      // A plan file of another version may hold more than this one knows.
      ...(body && name !== PLAN_FILE ? looseIn(schemaOf(body), `${name} body`) : []),
      ...(query ? looseIn(schemaOf(query), `${name} query`) : []),
    ]);
    assert.deepEqual(loose, []);
  });

  it('bounds every list and text that it takes', () => {
    const unbounded = (schema: unknown, where: string): string[] => {
      if (Array.isArray(schema))
        return schema.flatMap((one, at) => unbounded(one, `${where}.${at}`));
      if (typeof schema !== 'object' || schema === null) return [];
      const fields = schema as Record<string, unknown>;
      const text = fields['type'] === 'string' && !('enum' in fields) && !('const' in fields);
      const free =
        (text && fields['maxLength'] === undefined && fields['pattern'] === undefined) ||
        (fields['type'] === 'array' &&
          fields['maxItems'] === undefined &&
          !('prefixItems' in fields));
      return [
        ...(free ? [where] : []),
        ...Object.entries(fields).flatMap(([key, value]) => unbounded(value, `${where}.${key}`)),
      ];
    };
    const unboundedTexts = all.flatMap(({ name, operation: { body } }) =>
      body && name !== PLAN_FILE ? unbounded(schemaOf(body), name) : [],
    );
    assert.deepEqual(unboundedTexts, []);
  });
});
