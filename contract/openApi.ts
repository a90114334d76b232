import { z } from 'zod';
import { endpoints, problemSchema } from './endpoints.ts';
import { machineFileSchema } from './file/index.ts';

const jsonSchema = (schema: z.ZodType, io: 'input' | 'output') => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { io, unrepresentable: 'any', reused: 'inline' }) as Record<
    string,
    unknown
  >;
  return rest;
};

/** The JSON Schema (draft 2020-12) of machine files, for others who read or write them. */
export const machineFileJsonSchema = (): object => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Kavrid machine file',
  ...jsonSchema(machineFileSchema, 'input'),
});

const content = (type: z.ZodType | string, io: 'input' | 'output') =>
  typeof type === 'string'
    ? { [type]: { schema: type === 'application/json' ? {} : { type: 'string' } } }
    : { 'application/json': { schema: jsonSchema(type, io) } };

/** The OpenAPI 3.1 description of the server, generated from the table of endpoints. */
export function openApi(version: string): object {
  const paths: Record<string, Record<string, object>> = {};
  const problem = (description: string) => ({
    description,
    content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
  });
  for (const [operationId, endpoint] of Object.entries(endpoints)) {
    const { method, path, summary, answer } = endpoint;
    const query = 'query' in endpoint ? jsonSchema(endpoint.query, 'input') : { properties: {} };
    const body = 'body' in endpoint ? endpoint.body : undefined;
    const parameters = [
      ...[...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
        name,
        in: 'path',
        required: true,
        schema: { type: 'string' },
      })),
      ...Object.entries(query.properties as object).map(([name, schema]: [string, object]) => ({
        name,
        in: 'query',
        schema,
      })),
    ];
    const problems: Readonly<Record<string, string>> = 'problems' in endpoint ? endpoint.problems : {};
    (paths[path] ??= {})[method] = {
      operationId,
      summary,
      parameters,
      ...(body ? { requestBody: { required: true, content: content(body, 'input') } } : {}),
      responses: {
        ...(answer === 'nothing'
          ? { 204: { description: 'Done.' } }
          : { [method === 'post' ? 201 : 200]: { description: 'As asked.', content: content(answer, 'output') } }),
        ...Object.fromEntries(Object.entries(problems).map(([status, words]) => [status, problem(words)])),
        ...(body
          ? {
              400: problem('The body cannot be read.'),
              413: problem('The body is too large.'),
              415: problem('The content type of the body is wrong.'),
            }
          : {}),
        ...(body || 'query' in endpoint
          ? { 422: problem('The body or the query is not valid; “errors” says what and where.') }
          : {}),
        403: problem('Only pages of this server, opened on this computer, have access.'),
        ...(method === 'get' ? {} : { 507: problem('The database cannot write; nothing has been saved.') }),
        503: problem('The database, or the process in front of it, does not respond.'),
      },
    };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Kavrid',
      version,
      description: 'Machines, axes, library, runs and files. Errors are RFC 9457 problem details.',
    },
    servers: [{ url: '/api' }],
    paths,
    components: { schemas: { Problem: jsonSchema(problemSchema, 'output') } },
  };
}
