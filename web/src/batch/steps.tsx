import { type Step, stepSchema } from '@basitax/core/batch/recipe';
import { must } from '@basitax/core/must';
import { ArrowDown, ArrowUp, Plus, X } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { Button } from '../ui/controls.tsx';
import { itemLook, menuLook } from '../ui/top-line.tsx';
import { StepFields } from './step-fields.tsx';

/** What can be done with each file, and what it begins with. */
const kinds: readonly { readonly do: Step['do']; readonly title: string; readonly about: string; make(): object }[] = [
  {
    do: 'operation',
    title: 'Operation',
    about: 'Arrange, label, set a parameter … on nodes that fit a query',
    make: () => ({ operation: 'arrange' }),
  },
  { do: 'script', title: 'Script', about: 'A script from the library', make: () => ({}) },
  { do: 'fix', title: 'Fix', about: 'Fixes that house rules offer', make: () => ({}) },
  {
    do: 'check',
    title: 'Check',
    about: 'House rules; a file with serious findings is left unchanged',
    make: () => ({}),
  },
  { do: 'only', title: 'Only files where …', about: 'Others are left out', make: () => ({ where: 'kind:read' }) },
  {
    do: 'keep',
    title: 'Stop if the function changes',
    about: 'The file is left unchanged where its fingerprint has changed',
    make: () => ({}),
  },
  {
    do: 'better',
    title: 'Stop unless readability rises',
    about: 'The file is left unchanged where readability falls, or does not rise by this many points',
    make: () => ({}),
  },
  {
    do: 'found',
    title: 'Only files with findings',
    about: 'Files without findings are left out',
    make: () => ({}),
  },
  {
    do: 'no-new',
    title: 'Stop at new findings',
    about: 'The file is left unchanged where house rules find what was not there before',
    make: () => ({}),
  },
  {
    do: 'upgrade',
    title: 'Upgrade',
    about: 'To another version of the catalogue, by a mapping',
    make: () => ({ to: { id: 'catalogue', version: 1 }, mapping: { format: 'basitax-mapping', version: 1 } }),
  },
];
const titleOf = (step: Step): string => must(kinds.find((kind) => kind.do === step.do)).title;

/** The steps of a recipe in their order, each a form. */
export function Steps({
  steps,
  onChange,
}: {
  steps: readonly Step[];
  onChange: (steps: readonly Step[]) => void;
}): ReactNode {
  const put = (i: number, step: Step): void => onChange(steps.map((one, k) => (k === i ? step : one)));
  const swap = (i: number, k: number): void =>
    onChange(steps.map((one, at) => (at === i ? must(steps[k]) : at === k ? must(steps[i]) : one)));
  return (
    <ol aria-label="Steps" className="flex flex-col gap-3">
      {steps.map((step, i) => (
        <li
          // biome-ignore lint/suspicious/noArrayIndexKey: a step is nothing but its place
          key={`${i} ${step.do}`}
          aria-label={`Step ${i + 1}, ${titleOf(step)}`}
          className="rounded border border-line bg-panel"
        >
          <header className="flex items-center gap-2 border-b border-line px-3 py-1.5">
            <span className="font-mono text-xs text-soft">{i + 1}</span>
            <h3 className="flex-1 font-bold">{titleOf(step)}</h3>
            <Button
              look="quiet"
              square
              className="size-7"
              aria-label={`Move step ${i + 1} up`}
              dim={i === 0 ? 'It is the first.' : undefined}
              onClick={() => swap(i, i - 1)}
            >
              <ArrowUp size={14} />
            </Button>
            <Button
              look="quiet"
              square
              className="size-7"
              aria-label={`Move step ${i + 1} down`}
              dim={i === steps.length - 1 ? 'It is the last.' : undefined}
              onClick={() => swap(i, i + 1)}
            >
              <ArrowDown size={14} />
            </Button>
            <Button
              look="quiet"
              square
              className="size-7"
              aria-label={`Remove step ${i + 1}`}
              onClick={() => onChange(steps.filter((_, k) => k !== i))}
            >
              <X size={14} />
            </Button>
          </header>
          <div className="flex flex-wrap items-end gap-x-4 gap-y-2 px-3 py-2.5">
            <StepFields step={step} onChange={(next) => put(i, next)} />
          </div>
        </li>
      ))}
      <li className="list-none">
        <AddStep onAdd={(step) => onChange([...steps, step])} />
      </li>
    </ol>
  );
}

function AddStep({ onAdd }: { onAdd: (step: Step) => void }): ReactNode {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button>
          <Plus size={15} />
          Add a step
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className={`${menuLook} max-h-(--radix-dropdown-menu-content-available-height) w-96 overflow-auto`}
          align="start"
          sideOffset={4}
          collisionPadding={8}
        >
          {kinds.map((kind) => (
            <DropdownMenu.Item
              key={kind.do}
              className={`${itemLook} flex-col items-start gap-0`}
              onSelect={() => onAdd(stepSchema.parse({ do: kind.do, ...kind.make() }))}
            >
              <span className="font-bold">{kind.title}</span>
              <span className="text-xs text-soft">{kind.about}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
