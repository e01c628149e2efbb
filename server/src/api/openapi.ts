import { API, problemSchema, type Operation } from '@dravex/contract';
import { z } from 'zod';

type Json = Record<string, unknown>;

function schemaOf(schema: z.ZodType, io: 'input' | 'output'): Json {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { io, unrepresentable: 'any' });
  return rest;
}

function parametersOf({ path, query }: Operation): Json[] {
  const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name = '']) => ({
    name,
    in: 'path',
    required: true,
    schema: /Id$|^fiscalYear$/.test(name) ? { type: 'integer' } : { type: 'string' },
  }));
  if (!query) return inPath;
  const { properties = {}, required = [] } = schemaOf(query, 'input') as {
    properties?: Record<string, Json>;
    required?: string[];
  };
  const inQuery = Object.entries(properties).map(([name, schema]) => ({
    name,
    in: 'query',
    required: required.includes(name),
    schema,
  }));
  return [...inPath, ...inQuery];
}

const IDEMPOTENCY_KEY = {
  name: 'idempotency-key',
  in: 'header',
  required: false,
  description: 'The same key brings the same answer again and does nothing twice.',
  schema: { type: 'string', minLength: 8, maxLength: 100 },
};

const PROBLEM = { $ref: '#/components/responses/Problem' };

function describe(name: string, room: string, operation: Operation): Json {
  const { access, method, file, body, answer, writes, status } = operation;
  const writing = method !== 'get';
  const content = file
    ? { [file.type]: { schema: { type: 'string', format: 'binary', description: file.what } } }
    : body && { 'application/json': { schema: schemaOf(body, 'input') } };
  const success = status ?? (answer || writes ? 200 : 204);
  const answered = writes
    ? {
        [writes]: {
          schema: writes === 'application/json' ? { type: 'object' } : { type: 'string' },
        },
      }
    : answer && { 'application/json': { schema: schemaOf(answer, 'output') } };
  return {
    operationId: name,
    tags: [room],
    summary: operation.summary,
    'x-access': access,
    parameters: [
      ...parametersOf(operation),
      ...(writing && access !== 'anybody' ? [IDEMPOTENCY_KEY] : []),
    ],
    ...(content ? { requestBody: { required: true, content } } : {}),
    security:
      access === 'anybody'
        ? []
        : access === 'reports'
          ? [{ token: [] }]
          : [writing ? { session: [], csrf: [] } : { session: [] }],
    responses: {
      [success]: { description: 'Done', ...(answered ? { content: answered } : {}) },
      default: PROBLEM,
    },
  };
}

/** The whole API by OpenAPI 3.1, made from the schemas that check it. */
export function openApi(): Json {
  const paths: Record<string, Record<string, Json>> = {};
  for (const [room, described] of Object.entries(API)) {
    for (const [name, operation] of Object.entries(described)) {
      paths[operation.path] = {
        ...paths[operation.path],
        [operation.method]: describe(name, room, operation),
      };
    }
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Dravex',
      version: '1',
      description:
        'Everything the browser does, it does by these requests. Money is in minor units, a rate is a fraction, a month is written 2026-04.',
    },
    servers: [{ url: '/api' }],
    paths,
    components: {
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: 'dravex' },
        token: {
          type: 'http',
          scheme: 'bearer',
          description: 'A personal access token, made and withdrawn in Settings.',
        },
        csrf: {
          type: 'apiKey',
          in: 'header',
          name: 'x-csrf-token',
          description: 'The token that comes with the session; every write brings it.',
        },
      },
      responses: {
        Problem: {
          description: 'What happened, where, and what to do (RFC 9457)',
          content: { 'application/problem+json': { schema: schemaOf(problemSchema, 'output') } },
        },
      },
    },
  };
}
