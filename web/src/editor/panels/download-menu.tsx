import { type FormatId, factsOf, formatIds, keepersWords } from '@basitax/core/formats/endings';
import { Check, Download } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { teamApi } from '../../api/team.ts';
import { useTheme } from '../../theme.ts';
import { Button } from '../../ui/controls.tsx';
import { itemLook, menuLook } from '../../ui/top-line.tsx';
import { download } from '../download.ts';
import { useEditor } from '../store.ts';

const table: readonly FormatId[] = ['csv', 'edges', 'nodes', 'matrix'];
/** Formats by what they are for. */
const groups: readonly { readonly title: string; readonly ids: readonly FormatId[] }[] = [
  { title: 'The whole graph', ids: formatIds.filter((id) => factsOf(id).keepsAll) },
  {
    title: 'For other programs',
    ids: formatIds.filter((id) => !factsOf(id).keepsAll && !factsOf(id).onlyOut && !table.includes(id)),
  },
  { title: 'Tables', ids: table },
  { title: 'To read', ids: formatIds.filter((id) => factsOf(id).onlyOut) },
];
/** The formats that have a place for the ways of wires, in words. */
const withRoutesWords = formatIds
  .filter((id) => factsOf(id).routes)
  .map((id) => factsOf(id).title)
  .join(', ')
  .replace(/, ([^,]*)$/, ' and $1');

const handovers = [
  { as: 'page', title: 'Hand-over page', ending: '.html' },
  { as: 'svg', title: 'Poster, A3', ending: '.svg' },
  { as: 'pdf', title: 'Poster, A3', ending: '.pdf' },
] as const;

/** The revision that is shown in every format, what is handed over of it, and its catalogue. */
export function DownloadMenu(): ReactNode {
  const theme = useTheme((state) => state.theme);
  const title = useEditor((state) => state.title);
  const [withRoutes, setWithRoutes] = useState(false);
  const take = async (id: FormatId): Promise<void> => {
    const format = factsOf(id);
    try {
      const { text, lost } = await api.exported(fileId, revision, id, withRoutes && format.routes === true);
      download(`${title}${format.extensions[0]}`, text, format.mime);
      if (lost.length > 0)
        toast(`Not in the ${format.title}`, {
          description: `${lost.slice(0, 12).join(', ')}${lost.length > 12 ? ` and ${lost.length - 12} more` : ''}. ${keepersWords}`,
          duration: 12_000,
        });
    } catch (error) {
      toast.error(`${format.title} could not be made`, { description: (error as Error).message });
    }
  };
  const fileId = useEditor((state) => state.fileId);
  const revision = useEditor((state) => state.revision);
  const catalogue = useEditor((state) => state.catalogue);
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button aria-label="Download">
          <Download size={16} />
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className={`${menuLook} max-h-(--radix-dropdown-menu-content-available-height) overflow-auto`}
          align="end"
          sideOffset={4}
        >
          <DropdownMenu.Label className="px-2 py-1 text-xs text-soft">
            Revision {revision}, with positions and sizes
          </DropdownMenu.Label>
          <DropdownMenu.CheckboxItem
            className={itemLook}
            checked={withRoutes}
            onCheckedChange={setWithRoutes}
            onSelect={(event) => event.preventDefault()}
          >
            <span className="flex items-center gap-2">
              <span className="grid size-4 place-items-center border border-line rounded-xs">
                <DropdownMenu.ItemIndicator>
                  <Check size={12} />
                </DropdownMenu.ItemIndicator>
              </span>
              Include wire routes <span className="text-xs text-soft">{withRoutesWords}</span>
            </span>
          </DropdownMenu.CheckboxItem>
          <div className="columns-2 gap-x-2">
            {groups.map(({ title: of, ids }) => (
              <DropdownMenu.Group key={of} className="break-inside-avoid pb-1">
                <DropdownMenu.Label className="px-2 py-1 text-xs font-bold">{of}</DropdownMenu.Label>
                {ids.map((id) => (
                  <DropdownMenu.Item
                    key={id}
                    className={itemLook}
                    title={factsOf(id).about}
                    onSelect={() => void take(id)}
                  >
                    {factsOf(id).title} <span className="text-xs text-soft">{factsOf(id).extensions[0]}</span>
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Group>
            ))}
          </div>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Label className="px-2 py-1 text-xs text-soft">
            Hand-over: outline, notes, ends, findings, picture
          </DropdownMenu.Label>
          {handovers.map(({ as, title, ending }) => (
            <DropdownMenu.Item key={as} asChild className={itemLook}>
              <a href={teamApi.handoverAddress(fileId, revision, as, theme)} target="_blank" rel="noreferrer">
                {title} <span className="text-xs text-soft">{ending}</span>
              </a>
            </DropdownMenu.Item>
          ))}
          {catalogue.id !== 'none' && (
            <DropdownMenu.Item asChild className={itemLook}>
              <a
                href={api.catalogueAddress(catalogue.id, catalogue.version)}
                download={`${catalogue.id}.catalogue.json`}
              >
                Catalogue of kinds <span className="text-xs text-soft">.catalogue.json</span>
              </a>
            </DropdownMenu.Item>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
