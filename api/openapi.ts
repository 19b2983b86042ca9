import { z } from 'zod';
import { type Contract, type Family, problemsOf, takesKey } from './contract.ts';
import { problemSchema } from './problem.ts';

type Schema = Readonly<Record<string, unknown>>;

/** Turns Zod schemas into those of OpenAPI 3.1, which are JSON Schema 2020-12; what refers to itself stands once. */
class Schemas {
  /** Schemas that refer to themselves, such as any JSON, by the name that they have beside the paths. */
  readonly shared: Record<string, unknown> = {};

  of(type: z.ZodType, io: 'input' | 'output'): Schema {
    const {
      $schema: _version,
      $defs = {},
      ...schema
    } = z.toJSONSchema(type, { io, unrepresentable: 'any' }) as Record<string, unknown>;
    let text = JSON.stringify(schema);
    for (const [name, definition] of Object.entries($defs as object)) {
      const here = `#/$defs/${name}`;
      const own = this.nameOf(JSON.stringify(definition), here);
      text = text.replaceAll(here, `#/components/schemas/${own}`);
    }
    return JSON.parse(text) as Schema;
  }

  /** The name of a definition that calls itself `here`: the same definition has the same one, wherever it is met. */
  private nameOf(definition: string, here: string): string {
    const as = (name: string): string => definition.replaceAll(here, `#/components/schemas/${name}`);
    const known = Object.keys(this.shared).find((name) => JSON.stringify(this.shared[name]) === as(name));
    if (known !== undefined) return known;
    const name = `Shared${Object.keys(this.shared).length + 1}`;
    this.shared[name] = JSON.parse(as(name));
    return name;
  }
}

const isNothing = (schema: Schema): boolean => Object.keys(schema).length === 0;
const json = (schema: Schema): Schema => ({ 'application/json': { schema } });
const problem = { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } };

/** Parameters of the path or query, one by one. */
function parametersOf(schemas: Schemas, type: z.ZodType, where: 'path' | 'query'): Schema[] {
  const { properties = {}, required = [] } = schemas.of(type, 'input') as {
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

const seenOf = ({ seen }: Contract): Schema[] =>
  seen
    ? [
        {
          name: 'If-Match',
          in: 'header',
          required: seen === 'always',
          description: `The number of the revision that the change was made on, as in "7"${seen === 'always' ? '' : '; not for a dry run'}.`,
          schema: { type: 'string', pattern: '^(?:W/)?"?\\d{1,9}"?$' },
        },
      ]
    : [];

const keyOf = (one: Contract): Schema[] =>
  takesKey(one)
    ? [
        {
          name: 'Idempotency-Key',
          in: 'header',
          required: false,
          description:
            'Sent again with the same key within a day, it is not done again: the first answer comes, with Idempotency-Replayed.',
          schema: { type: 'string', minLength: 1, maxLength: 255 },
        },
      ]
    : [];

function contentOf(schemas: Schemas, one: Contract): Schema {
  if (one.events) {
    const event = {
      type: 'string',
      contentMediaType: 'application/json',
      contentSchema: schemas.of(one.events, 'output'),
    };
    return { 'text/event-stream': { schema: event } };
  }
  if (one.media) return Object.fromEntries(one.media.map((type) => [type, { schema: {} }]));
  return json(schemas.of(one.answer, 'output'));
}

function operationOf(schemas: Schemas, family: string, name: string, one: Contract): Schema {
  const body = one.raw ? {} : schemas.of(one.body, 'input');
  const wantsBody = one.method !== 'get' && one.method !== 'delete' && !isNothing(body);
  const headers = Object.entries(one.headers ?? {}).map(([header, description]) => [
    header,
    { description, schema: { type: 'string' } },
  ]);
  const done = {
    description: one.status === 204 ? 'Done; there is no body.' : 'Done.',
    ...(headers.length > 0 && { headers: Object.fromEntries(headers) }),
    ...(one.status !== 204 && { content: contentOf(schemas, one) }),
  };
  return {
    summary: one.about,
    operationId: `${family}.${name}`,
    tags: [family],
    ...(one.role ? { description: `Needs the role ${one.role}.` } : { security: [] }),
    parameters: [
      ...parametersOf(schemas, one.params, 'path'),
      ...parametersOf(schemas, one.query, 'query'),
      ...seenOf(one),
      ...keyOf(one),
    ],
    ...(one.raw && { requestBody: { required: true, content: { 'application/octet-stream': { schema: {} } } } }),
    ...(wantsBody && { requestBody: { required: true, content: json(body) } }),
    responses: {
      [one.status]: done,
      ...Object.fromEntries(
        [...problemsOf(one)].map(([status, description]) => [status, { description, content: problem }]),
      ),
    },
  };
}

const about = `Files, operations, scripts and batch runs, for a team’s own pipeline.

Changes to a file name the revision that was seen in If-Match: without it the answer is 428, and 412 where somebody \
has saved since. Every problem is a document of RFC 9457. An address that is there and does not take the method \
answers 405, with those that it takes in Allow.`;

/** Every route of the API as an OpenAPI 3.1 document, made from what checks requests and answers. O(routes). */
export function openApi(families: Readonly<Record<string, Family>>): Schema & { readonly openapi: string } {
  const schemas = new Schemas();
  const paths: Record<string, Record<string, Schema>> = {};
  for (const [family, routes] of Object.entries(families))
    for (const [name, one] of Object.entries(routes)) {
      const path = one.path.replace(/:(\w+)/g, '{$1}');
      paths[path] = { ...paths[path], [one.method]: operationOf(schemas, family, name, one) };
    }
  return {
    openapi: '3.1.0',
    info: { title: 'Basitax', version: '1', description: about },
    security: [{ token: [] }, { session: [] }],
    paths,
    components: {
      schemas: { Problem: schemas.of(problemSchema, 'output'), ...schemas.shared },
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'A personal token' },
        session: { type: 'apiKey', in: 'cookie', name: 'basitax_session', description: 'A browser that is signed in' },
      },
    },
  };
}
