import { handoverApi } from '@basitax/api/handover';
import { noScheme, schemeSchema } from '@basitax/core/color/scheme';
import { embeddedFonts } from '@basitax/print/fonts';
import { sheetsPdf } from '@basitax/print/pdf';
import { RevisionRow, TeamSettingRow } from '../db/models.ts';
import { ProjectRow } from '../db/team-models.ts';
import type { FileStore } from '../files/store.ts';
import { bind, type Route } from '../http/route.ts';
import { rulesForFile } from '../projects/projects.ts';
import type { Workplace } from '../work/desk.ts';

const types = { page: 'text/html', svg: 'image/svg+xml', pdf: 'application/pdf' } as const;
const endings = { page: 'html', svg: 'svg', pdf: 'pdf' } as const;

/** Paper that is handed over shows what it is about and nothing else: no script, nothing fetched. */
const policy = "default-src 'none'; style-src 'unsafe-inline'; font-src data:; img-src data:; frame-ancestors 'none'";

/** What is handed over of a file: a page, and a poster in SVG and PDF. */
export function handoverRoutes(store: FileStore, pool: Workplace): Route[] {
  return bind(handoverApi, {
    async make({ params, query, ctx }) {
      const { text, number, catalogue, title } = await store.text(params.id, params.number);
      const [row, project, scheme, { profile }] = await Promise.all([
        RevisionRow.findOne({ attributes: ['author', 'message', 'createdAt'], where: { fileId: params.id, number } }),
        store.file(params.id).then((file) => ProjectRow.findByPk(file.projectId)),
        TeamSettingRow.findByPk('scheme'),
        rulesForFile(params.id),
      ]);
      const at = row?.createdAt ?? new Date();
      const facts = {
        revision: number,
        author: row?.author ?? '',
        message: row?.message ?? '',
        at: at.toISOString().slice(0, 10),
        project: project?.title ?? '',
      };
      const input = {
        ...{
          facts,
          profile,
          fonts: embeddedFonts(),
          theme: query.theme,
          as: query.as === 'pdf' ? ('sheets' as const) : query.as,
        },
        scheme: scheme ? schemeSchema.parse(JSON.parse(scheme.value)) : noScheme,
      };
      const made = await pool.run('handover', input, { doc: text, catalogue });
      ctx.type = types[query.as];
      ctx.set('Content-Security-Policy', policy);
      const name = `${title}, hand-over.${endings[query.as]}`;
      ctx.set(
        'Content-Disposition',
        `${query.save === 'yes' ? 'attachment' : 'inline'}; filename="${name.replace(/[^\w. -]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name)}`,
      );
      if (made.sheets) return sheetsPdf(made.sheets, { title, author: facts.author, at });
      const drawn = made.page ?? made.svg;
      if (drawn === undefined) throw new Error(`Nothing was made of the file as ${query.as}`);
      return drawn;
    },
  });
}
