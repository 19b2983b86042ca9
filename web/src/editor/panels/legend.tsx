import { mayAct } from '@basitax/api/roles';
import { legend, schemeColor } from '@basitax/core/color/scheme';
import { must } from '@basitax/core/must';
import { plural } from '@basitax/core/words';
import { type ReactNode, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { usePerson } from '../../api/person.ts';
import { useTheme } from '../../theme.ts';
import { Button, Check } from '../../ui/controls.tsx';
import { setLayout, useLayout } from '../layout.ts';
import { saveScheme, useScheme } from '../scheme.ts';
import { select, useEditing } from '../store.ts';
import { ColorField } from './color-field.tsx';
import { SidePanel } from './side.tsx';

/** What the colours of this graph mean, what departs from them, and for leads a way to change them. */
export function LegendPanel(): ReactNode {
  const { doc, kinds, graph } = useEditing();
  const scheme = useScheme((state) => state.scheme);
  const theme = useTheme((state) => state.theme);
  const differs = useLayout((state) => state.differs);
  const person = usePerson().data;
  const isLead = person ? mayAct(person.role, 'lead') : false;
  const [changed, setChanged] = useState<string>();
  const { rows, frames } = useMemo(() => legend(doc, kinds, graph, scheme), [doc, kinds, graph, scheme]);
  const departing = rows.flatMap((row) => row.differing);
  const change = (category: string, color: string): void => {
    const { [category]: _, ...rest } = scheme.categories;
    void saveScheme({ categories: color === '' ? rest : { ...rest, [category]: color } }).then(
      () => toast('The team’s colours are changed, for all its files.', { duration: 2500 }),
      (error: Error) => toast.error('The colours could not be changed', { description: error.message }),
    );
  };
  const sample = (kind: string): string => schemeColor(kinds, kind, scheme, theme);
  return (
    <SidePanel
      id="legend"
      title="Colours"
      about="One colour for each category, by the team’s scheme. Click a line to select its nodes."
      footer={
        <>
          <Check
            label="Show what differs from the scheme"
            checked={differs}
            onChange={(on) => setLayout({ differs: on })}
          />
          <Button
            dim={departing.length + frames.length === 0 ? 'Everything follows the scheme.' : undefined}
            onClick={() => select([...departing, ...frames])}
          >
            Select the {(departing.length + frames.length).toLocaleString('en')} that differ
          </Button>
        </>
      }
    >
      <ul className="flex flex-col">
        {rows.map((row) => {
          const first = must(doc.nodes.get(must(row.nodes[0])));
          return (
            <li key={row.category} className="border-b border-line py-1">
              <span className="flex items-center gap-2">
                <span
                  className="size-4 shrink-0 rounded-xs"
                  style={{ background: sample(first.kind) }}
                  aria-hidden="true"
                />
                <button
                  type="button"
                  className="min-w-0 flex-1 truncate text-left hover:underline"
                  onClick={() => select(row.nodes)}
                >
                  {row.title}
                </button>
                <span className="text-xs text-soft tabular-nums">
                  {row.nodes.length.toLocaleString('en')}
                  {row.differing.length > 0 && `, ${row.differing.length} differ`}
                </span>
                {isLead && (
                  <Button
                    look="quiet"
                    className="h-6 px-1.5 text-xs"
                    aria-expanded={changed === row.category}
                    aria-label={`Change the colour of ${row.title}`}
                    onClick={() => setChanged(changed === row.category ? undefined : row.category)}
                  >
                    change
                  </Button>
                )}
              </span>
              {changed === row.category && (
                <ColorField
                  label={`Colour of ${row.title}, for the team`}
                  value={scheme.categories[row.category]}
                  none="The catalogue’s"
                  onTake={(color) => change(row.category, color)}
                />
              )}
            </li>
          );
        })}
        {rows.length === 0 && <li className="text-soft">This graph has no nodes.</li>}
      </ul>
      {frames.length > 0 && (
        <p className="text-xs text-soft">
          {plural(frames.length, 'frame has its own colour', 'frames have their own colours')}.
        </p>
      )}
    </SidePanel>
  );
}
