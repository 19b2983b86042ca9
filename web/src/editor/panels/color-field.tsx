import { leastContrast, palette, seenOn, themed } from '@basitax/core/color/scheme';
import type { ReactNode } from 'react';
import { useTheme } from '../../theme.ts';
import { Button } from '../../ui/controls.tsx';
import { useDraft } from '../../ui/use-draft.ts';

/** What is said of a colour that is not seen well as it is: it is drawn darker or lighter then. */
function contrastWords(color: string): string | undefined {
  const weak = (['paper', 'night'] as const).filter((theme) => seenOn(color, theme) < leastContrast);
  if (weak.length === 0) return undefined;
  const figures = weak.map(
    (theme) => `${seenOn(color, theme).toFixed(1)}:1 ${theme === 'paper' ? 'on paper' : 'at night'}`,
  );
  return `${figures.join(' and ')}, so it is drawn ${weak[0] === 'paper' ? 'darker' : 'lighter'} there.`;
}

/** A colour: one of the palette, or any. What is chosen is taken at once; none goes back to the scheme. */
export function ColorField({
  label,
  value,
  none,
  locked,
  onTake,
}: {
  label: string;
  value: string | undefined;
  none: string;
  locked?: boolean;
  onTake: (color: string) => void;
}): ReactNode {
  const theme = useTheme((state) => state.theme);
  const [any, setAny] = useDraft(value ?? '#888888');
  const words = value ? contrastWords(value) : undefined;
  return (
    <fieldset className="flex flex-col gap-1" disabled={locked}>
      <legend className="pb-1 text-sm text-soft">{label}</legend>
      <span className="flex flex-wrap items-center gap-1">
        {palette.map(({ name, color }) => (
          <button
            key={color}
            type="button"
            aria-label={name}
            aria-pressed={value === color}
            title={name}
            className="size-6 rounded-sm border border-edge aria-pressed:outline-2 aria-pressed:outline-offset-1 aria-pressed:outline-accent"
            style={{ background: themed(color, theme) }}
            onClick={() => onTake(color)}
          />
        ))}
        <input
          type="color"
          aria-label={`${label}, any`}
          title="Any colour"
          className="h-6 w-8"
          value={any}
          onChange={(event) => setAny(event.target.value)}
          onBlur={() => any !== (value ?? '#888888') && onTake(any)}
        />
        <Button
          look="quiet"
          className="h-6 px-1.5 text-xs"
          dim={value === undefined ? `It has ${none.toLowerCase()} already.` : undefined}
          onClick={() => onTake('')}
        >
          {none}
        </Button>
      </span>
      {words && <span className="text-xs text-soft">{words}</span>}
    </fieldset>
  );
}
