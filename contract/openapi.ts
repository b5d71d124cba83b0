import { z } from 'zod';
import type { Endpoint } from './define';

const schemaOf = (schema: z.ZodType, io: 'input' | 'output') => {
  const { $schema, ...json } = z.toJSONSchema(schema, {
    io,
    unrepresentable: 'any',
    target: 'openapi-3.0',
  }) as Record<string, unknown>;
  return json;
};

/** The contract as an OpenAPI 3.0 document, made from the same data that the server answers by. */
export function openApi(endpoints: Readonly<Record<string, Endpoint>>, version: string) {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const [name, endpoint] of Object.entries(endpoints)) {
    const path = endpoint.path.replace(/:(\w+)/g, '{$1}');
    const parameters = (['params', 'query'] as const).flatMap((place) => {
      const { properties = {}, required = [] } = schemaOf(endpoint[place], 'input') as {
        properties?: Record<string, unknown>;
        required?: string[];
      };
      return Object.entries(properties).map(([key, schema]) => ({
        name: key,
        in: place === 'params' ? 'path' : 'query',
        required: place === 'params' || required.includes(key),
        schema,
      }));
    });
    const content = (type: string | undefined, schema: z.ZodType, io: 'input' | 'output') => ({
      [type ?? 'application/json']: { schema: schemaOf(schema, io) },
    });
    const hasBody = !(endpoint.body instanceof z.ZodUndefined);
    paths[path] = {
      ...paths[path],
      [endpoint.method]: {
        operationId: name,
        summary: endpoint.summary,
        security: endpoint.who === 'anyone' ? [] : [{ session: [] }],
        parameters,
        ...(hasBody && {
          requestBody: { required: true, content: content(endpoint.bodyType, endpoint.body, 'input') },
        }),
        responses: {
          200: { description: 'Done', content: content(endpoint.outputType, endpoint.output, 'output') },
          default: { description: 'Refused: what happened and what to do' },
        },
      },
    };
  }
  return {
    openapi: '3.0.3',
    info: { title: 'Ulkret', version },
    components: { securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'ulkret_session' } } },
    paths,
  };
}
