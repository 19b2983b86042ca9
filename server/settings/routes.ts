import { settingOf, settingsApi } from '@basitax/api/settings';
import { SettingRow } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route } from '../http/route.ts';

/**
 * What a person has set up for himself or herself: shortcuts, and the views saved in each file. Nobody sees those of
 * others.
 */
export function settingRoutes(): Route[] {
  return bind(settingsApi, {
    async get({ params: { name }, person }) {
      const row = await SettingRow.findOne({ where: { userId: person.id, name } });
      return { value: row ? JSON.parse(row.value) : null };
    },
    async change({ params: { name }, body, person }) {
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
  });
}
