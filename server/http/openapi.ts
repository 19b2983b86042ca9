import { z } from 'zod';
import { problemSchema } from '../api.ts';
import type { Route } from './route.ts';

type Schema = Readonly<Record<string, unknown>>;

/** Schemas that refer to themselves, such as any JSON: they stand once, beside the paths. */
const shared: Record<string, unknown> = {};

/** A Zod schema as OpenAPI 3.1 has it, which is JSON Schema 2020-12. */
function schemaOf(type: z.ZodType, io: 'input' | 'output'): Schema {
  const {
    $schema: _version,
    $defs = {},
    ...schema
  } = z.toJSONSchema(type, { io, unrepresentable: 'any' }) as Record<string, unknown>;
  let text = JSON.stringify(schema);
  for (const [name, definition] of Object.entries($defs as object)) {
    const here = `#/$defs/${name}`;
    // the same definition has the same name, wherever it is met
    const plain = JSON.stringify(definition);
    const own =
      Object.keys(shared).find(
        (key) => JSON.stringify(shared[key]) === plain.replaceAll(here, `#/components/schemas/${key}`),
      ) ?? `Shared${Object.keys(shared).length + 1}`;
    const there = `#/components/schemas/${own}`;
    shared[own] = JSON.parse(plain.replaceAll(here, there));
    text = text.replaceAll(here, there);
  }
  return JSON.parse(text) as Schema;
}

/** Parameters of the path or query, one by one. */
function parametersOf(type: z.ZodType, where: 'path' | 'query'): Schema[] {
  const { properties = {}, required = [] } = schemaOf(type, 'input') as {
    properties?: Record<string, Schema>;
    required?: string[];
  };
  return Object.entries(properties).map(([name, schema]) => ({
    name,
    in: where,
    required: where === 'path' || required.includes(name),
    schema,
  }));
}

const isNothing = (schema: Schema): boolean => Object.keys(schema).length === 0;
const json = (schema: Schema): Schema => ({ 'application/json': { schema } });

function operationOf(one: Route): Schema {
  const body = one.raw ? undefined : schemaOf(one.body, 'input');
  const wantsBody = one.method !== 'get' && one.method !== 'delete';
  return {
    summary: one.about ?? `${one.method.toUpperCase()} ${one.path}`,
    operationId: `${one.method}${one.path.replace(/[^a-zA-Z0-9]+(.)?/g, (_all, letter?: string) => (letter ?? '').toUpperCase())}`,
    tags: [one.path.split('/')[2] ?? 'server'],
    ...(one.role ? { description: `Takes the role ${one.role}.` } : { security: [] }),
    parameters: [...parametersOf(one.params, 'path'), ...parametersOf(one.query, 'query')],
    ...(one.raw && { requestBody: { required: true, content: { 'application/octet-stream': { schema: {} } } } }),
    ...(body && wantsBody && !isNothing(body) && { requestBody: { required: true, content: json(body) } }),
    responses: {
      default: {
        description: 'A problem document, RFC 9457',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
      '2XX': { description: 'Done', ...(one.answer && { content: json(schemaOf(one.answer, 'output')) }) },
    },
  };
}

/** Every route of the API as an OpenAPI 3.1 document, made from what checks the requests. O(routes). */
export function openApi(routes: readonly Route[]): Schema {
  const paths: Record<string, Record<string, Schema>> = {};
  for (const one of routes) {
    const path = one.path.replace(/:(\w+)/g, '{$1}');
    paths[path] = { ...paths[path], [one.method]: operationOf(one) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Basitax',
      version: '1',
      description:
        'Files, operations, scripts and batch runs, for a team’s own pipeline. Changes to a file name the revision that was seen in If-Match.',
    },
    security: [{ token: [] }, { session: [] }],
    paths,
    components: {
      schemas: { Problem: schemaOf(problemSchema, 'output'), ...shared },
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'A personal token' },
        session: { type: 'apiKey', in: 'cookie', name: 'basitax_session', description: 'A browser that is signed in' },
      },
    },
  };
}
