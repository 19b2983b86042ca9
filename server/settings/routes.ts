import { z } from 'zod';
import { settingNameSchema, settingOf } from '../api.ts';
import { SettingRow } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';
import { type Route, route } from '../http/route.ts';

const params = z.object({ name: settingNameSchema });

/**
 * What a person has set up for himself or herself: shortcuts, and the views saved in each file. Nobody sees those of
 * others.
 */
export function settingRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/settings/:name',
      role: 'viewer',
      params,
      async handle({ params: { name }, person }) {
        const row = await SettingRow.findOne({ where: { userId: person.id, name } });
        return { value: row ? JSON.parse(row.value) : null };
      },
    }),
    route({
      method: 'put',
      path: '/api/settings/:name',
      quiet: true,
      role: 'viewer',
      params,
      body: z.object({ value: z.unknown() }),
      async handle({ params: { name }, body, person }) {
        const parsed = settingOf(name).safeParse(body.value);
        if (!parsed.success) {
          const issue = parsed.error.issues[0];
          throw new HttpProblem(
            400,
            'The request does not fit',
            `“${issue?.path.join('.') || 'value'}” does not fit: ${issue?.message ?? 'not as expected'}`,
          );
        }
        await SettingRow.upsert({ userId: person.id, name, value: JSON.stringify(parsed.data) });
        return undefined;
      },
    }),
  ];
}
