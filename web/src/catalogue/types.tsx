import { type Catalogue, signs, type TypeSpec } from '@basitax/core/document/catalogue';
import { hues } from '@basitax/core/inspect/sketch-colors';
import { Plus, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { Draft } from '../editor/panels/draft.tsx';
import { useTheme } from '../theme.ts';
import { Button, Field } from '../ui/controls.tsx';
import { addCategory, addType, putCategory, putHead, putType } from './draft.ts';
import { selectLook } from './kind-form.tsx';

/** One of the eight hues, as they look in the theme. */
function HueChoice({
  label,
  hue,
  locked,
  onChoose,
}: {
  label: string;
  hue: number;
  locked: boolean;
  onChoose: (hue: number) => void;
}): ReactNode {
  const theme = useTheme((state) => state.theme);
  return (
    <span role="radiogroup" aria-label={label} className="flex gap-0.5">
      {hues[theme].map((color, i) => (
        // biome-ignore lint/a11y/useSemanticElements: eight swatches side by side say more than dots
        <button
          key={color}
          type="button"
          role="radio"
          aria-checked={hue === i}
          aria-label={`hue ${i + 1}`}
          disabled={locked}
          className="size-5 rounded-xs aria-checked:outline-2 aria-checked:outline-offset-1 aria-checked:outline-accent"
          style={{ background: color }}
          onClick={() => onChoose(i)}
        />
      ))}
    </span>
  );
}

const list = (text: string): string[] => text.split(/[\s,]+/).filter(Boolean);

/** Types: their sign and hue, what takes them as they are, which kinds convert them, what they open into. */
export function TypeTable({ catalogue, locked }: { catalogue: Catalogue; locked: boolean }): ReactNode {
  return (
    <section aria-label="Types" className="flex flex-col gap-2">
      {!locked && (
        <Button className="self-start" onClick={addType}>
          <Plus size={14} /> New type
        </Button>
      )}
      {catalogue.types.map((type) => (
        <TypeRow key={type.id} type={type} catalogue={catalogue} locked={locked} />
      ))}
    </section>
  );
}

function TypeRow({ type, catalogue, locked }: { type: TypeSpec; catalogue: Catalogue; locked: boolean }): ReactNode {
  const put = (part: Partial<TypeSpec>): void => putType(type.id, { ...type, ...part });
  const conversions = type.conversions.map(({ to, kind }) => `${to}=${kind}`).join(', ');
  return (
    <div className="grid grid-cols-[8rem_1fr_6rem_auto_auto] items-center gap-x-3 gap-y-1 border-t border-line py-2">
      <code className="font-mono text-xs">{type.id}</code>
      <Draft
        label={`Title of type ${type.id}`}
        value={type.title}
        locked={locked}
        onTake={async (title) => put({ title })}
      />
      <select
        aria-label={`Sign of ${type.title}`}
        className={selectLook}
        value={type.sign}
        disabled={locked}
        onChange={(event) => put({ sign: event.target.value as TypeSpec['sign'] })}
      >
        {signs.map((sign) => (
          <option key={sign}>{sign}</option>
        ))}
      </select>
      <HueChoice label={`Hue of ${type.title}`} hue={type.hue} locked={locked} onChoose={(hue) => put({ hue })} />
      {locked ? (
        <span />
      ) : (
        <Button
          look="quiet"
          square
          className="size-7"
          aria-label={`Remove ${type.title}`}
          onClick={() => putType(type.id, undefined)}
        >
          <Trash2 size={13} />
        </Button>
      )}
      <span className="col-span-5 grid grid-cols-3 gap-3 text-xs text-soft">
        <span className="flex flex-col gap-0.5">
          Inputs of these types accept it without conversion
          <Draft
            mono
            label={`Types that take ${type.id}`}
            value={type.assignableTo.join(', ')}
            locked={locked}
            onTake={async (text) => put({ assignableTo: list(text) })}
          />
        </span>
        <span className="flex flex-col gap-0.5">
          Conversions, as type=kind
          <Draft
            mono
            label={`Conversions of ${type.id}`}
            value={conversions}
            locked={locked}
            onTake={async (text) =>
              put({
                conversions: list(text).flatMap((pair) => {
                  const [to, kind] = pair.split('=');
                  return to && kind && catalogue.kinds.some((one) => one.id === kind) ? [{ to, kind }] : [];
                }),
              })
            }
          />
        </span>
        <span className="flex flex-col gap-0.5">
          Opens into, as name=type
          <Draft
            mono
            label={`Components of ${type.id}`}
            value={type.components.map(({ name, type: of }) => `${name}=${of}`).join(', ')}
            locked={locked}
            onTake={async (text) =>
              put({
                components: list(text).flatMap((pair) => {
                  const [name, of] = pair.split('=');
                  return name && of ? [{ name, type: of }] : [];
                }),
              })
            }
          />
        </span>
      </span>
    </div>
  );
}

/** Categories: title and hue. The team's own colours for them stand in the legend of the editor. */
export function CategoryTable({ catalogue, locked }: { catalogue: Catalogue; locked: boolean }): ReactNode {
  return (
    <section aria-label="Categories" className="flex flex-col gap-2">
      <div className="grid grid-cols-2 gap-3 pb-2">
        <Field label="Title of the catalogue">
          <Draft value={catalogue.title} locked={locked} onTake={async (title) => putHead({ title })} />
        </Field>
        <Field label="Loops of wires">
          <select
            className={selectLook}
            value={catalogue.loops}
            disabled={locked}
            onChange={(event) => putHead({ loops: event.target.value as Catalogue['loops'] })}
          >
            <option value="forbidden">are refused</option>
            <option value="allowed">are allowed</option>
          </select>
        </Field>
      </div>
      {!locked && (
        <Button className="self-start" onClick={addCategory}>
          <Plus size={14} /> New category
        </Button>
      )}
      {catalogue.categories.map((category) => {
        const count = catalogue.kinds.filter((kind) => kind.category === category.id).length;
        return (
          <div
            key={category.id}
            className="grid grid-cols-[8rem_1fr_auto_5rem_auto] items-center gap-3 border-t border-line py-2"
          >
            <code className="font-mono text-xs">{category.id}</code>
            <Draft
              label={`Title of category ${category.id}`}
              value={category.title}
              locked={locked}
              onTake={async (title) => putCategory(category.id, { ...category, title })}
            />
            <HueChoice
              label={`Hue of ${category.title}`}
              hue={category.hue}
              locked={locked}
              onChoose={(hue) => putCategory(category.id, { ...category, hue })}
            />
            <span className="text-right text-xs text-soft">{count} kinds</span>
            {locked ? (
              <span />
            ) : (
              <Button
                look="quiet"
                square
                className="size-7"
                aria-label={`Remove ${category.title}`}
                dim={count > 0 ? 'It contains kinds: move them to another category first.' : undefined}
                onClick={() => putCategory(category.id, undefined)}
              >
                <Trash2 size={13} />
              </Button>
            )}
          </div>
        );
      })}
      <p className="text-xs text-soft">To give categories your team’s colours, use Colours and legend in the editor.</p>
    </section>
  );
}
