import type { Catalogue } from '@basitax/core/document/catalogue';
import { Kinds } from '@basitax/core/document/kinds';
import { byCaption, candidatesOf, type Evidence, mergeEvidence, noEvidence } from '@basitax/core/learn/evidence';
import { evidenceFrom } from '@basitax/core/learn/evidence-json';
import { type Learned, type LearnedKind, learnedFrom, withLearned } from '@basitax/core/learn/proposal';
import { parameterWords } from '@basitax/core/learn/seen-words';
import { plural } from '@basitax/core/words';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../api/client.ts';
import { Problem, useAttempt } from '../ui/attempt.tsx';
import { Button, Dialog, Field, Notice, Select, TextInput } from '../ui/controls.tsx';
import { setDraft } from './draft.ts';

/** Files that are asked for at once: often enough to show how far it is. */
const atOnce = 5;

interface Looked {
  readonly evidence: Evidence;
  readonly learned: Learned;
  /** What said the kind of imported nodes. */
  readonly by: string;
}

/** Kinds that files show and the catalogue lacks, to be looked at and taken into the draft. */
export function LearnDialog({ draft, onClose }: { draft: Catalogue; onClose: () => void }): ReactNode {
  const [query, setQuery] = useState('');
  const [by, setBy] = useState('');
  const [done, setDone] = useState<{ readonly of: number; readonly files: number }>();
  const [looked, setLooked] = useState<Looked>();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const { problem, isBusy, attempt } = useAttempt();
  const abort = useRef<AbortController>(undefined);
  useEffect(() => () => abort.current?.abort(), []);
  const look = (): Promise<void> =>
    attempt(async () => {
      const own = new AbortController();
      abort.current = own;
      setLooked(undefined);
      const files = await api.batchFiles({ query });
      const evidence = noEvidence();
      for (let i = 0; i < files.length && !own.signal.aborted; i += atOnce) {
        setDone({ files: i, of: files.length });
        const ids = files.slice(i, i + atOnce).map((file) => file.id);
        try {
          mergeEvidence(evidence, evidenceFrom(await api.kindEvidence(ids, by === '' ? undefined : by, own.signal)));
        } catch (error) {
          if (!own.signal.aborted) throw error;
        }
      }
      setDone(undefined);
      const learned = learnedFrom(evidence, new Kinds(draft));
      setLooked({ evidence, learned, by });
      setChosen(new Set(toLearn(learned).map((one) => one.spec.id)));
    });
  const take = (): void => {
    if (!looked) return;
    setDraft(withLearned(draft, looked.learned, chosen));
    toast(
      `${plural(chosen.size, 'kind')} ${chosen.size === 1 ? 'is' : 'are'} in the draft. Look them over, then review the change.`,
    );
    onClose();
  };
  const rows = looked ? toLearn(looked.learned) : [];
  return (
    <Dialog
      open
      onClose={onClose}
      size="huge"
      title="Learn kinds from files"
      about="Looks through files for kinds of nodes that the catalogue lacks, and for ports and parameters that it does not know. Nothing is stored until you review the change, and the results of files stay the same."
    >
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void look();
        }}
      >
        <Field label="Files" hint="a query; empty: all files">
          <TextInput
            className="w-64 font-mono text-xs"
            value={query}
            onChange={(event) => setQuery(event.target.value)}
          />
        </Field>
        <Field label="Kind of imported nodes">
          <Select value={by} onChange={(event) => setBy(event.target.value)}>
            <option value="">by an attribute called like “kind”</option>
            <option value={byCaption}>by the text on the node</option>
            {looked &&
              candidatesOf(looked.evidence)
                .slice(0, 30)
                .map((one) => (
                  <option key={one.attribute} value={one.attribute}>
                    by “{one.attribute}” ({plural(one.kinds, 'kind')})
                  </option>
                ))}
          </Select>
        </Field>
        <Button
          type="submit"
          look={looked ? 'plain' : 'primary'}
          dim={isBusy ? 'Wait until it is done, or stop it.' : undefined}
        >
          {looked ? 'Look again' : 'Look through the files'}
        </Button>
      </form>
      {done && (
        <div className="flex items-center gap-3 text-sm text-soft">
          <progress className="h-2 flex-1" aria-label="Files looked through" value={done.files} max={done.of} />
          {done.files} of {plural(done.of, 'file')}
          <Button onClick={() => abort.current?.abort()}>Stop here</Button>
        </div>
      )}
      {looked && <Found rows={rows} looked={looked} chosen={chosen} onChosen={setChosen} />}
      <Problem text={problem} />
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button
          look={looked ? 'primary' : 'plain'}
          dim={!looked ? 'Look through files first.' : chosen.size === 0 ? 'Choose at least one kind.' : undefined}
          onClick={take}
        >
          {chosen.size === 0 ? 'Add to the draft' : `Add ${plural(chosen.size, 'kind')} to the draft`}
        </Button>
      </div>
    </Dialog>
  );
}

/** What the catalogue lacks of all that was seen. */
const toLearn = (learned: Learned): LearnedKind[] => learned.kinds.filter((one) => one.is !== 'known');

function Found({
  rows,
  looked: { evidence, learned, by },
  chosen,
  onChosen,
}: {
  rows: readonly LearnedKind[];
  looked: Looked;
  chosen: ReadonlySet<string>;
  onChosen: (chosen: ReadonlySet<string>) => void;
}): ReactNode {
  const [shown, setShown] = useState<string>();
  const known = learned.kinds.length - rows.length;
  const put = (id: string, isOn: boolean): void =>
    onChosen(new Set(isOn ? [...chosen, id] : [...chosen].filter((one) => one !== id)));
  return (
    <>
      <p className="text-sm">
        {plural(evidence.files, 'file')}, {plural(known, 'kind')} that the catalogue knows in full.{' '}
        {learned.untold > 0 && untoldWords(learned.untold, by)}
        {rows.some((one) => one.isImported) &&
          ' Nodes that are in files already get their kinds with “Give imported nodes their kinds”, in the editor or as a batch run.'}
      </p>
      {rows.length === 0 ? (
        <Notice
          title={
            learned.untold > 0
              ? 'Nothing to learn yet.'
              : 'There is nothing to learn: the catalogue knows every kind that these files use.'
          }
        />
      ) : (
        <div className="min-h-0 overflow-auto rounded-sm border border-line">
          <table className="w-full text-sm" aria-label="Kinds that were found">
            <thead className="sticky top-0 bg-panel text-left text-soft">
              <tr>
                <th className="w-8 p-1.5">
                  <input
                    type="checkbox"
                    className="size-4 accent-accent"
                    aria-label="All kinds"
                    checked={chosen.size === rows.length}
                    onChange={(event) => onChosen(new Set(event.target.checked ? rows.map((one) => one.spec.id) : []))}
                  />
                </th>
                <th className="p-1.5 font-normal">Kind</th>
                <th className="p-1.5 text-right font-normal">Nodes</th>
                <th className="p-1.5 text-right font-normal">Files</th>
                <th className="p-1.5 text-right font-normal">Ports</th>
                <th className="p-1.5 text-right font-normal">Parameters</th>
                <th className="p-1.5 font-normal">In the catalogue</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((one) => (
                <KindRow
                  key={one.spec.id}
                  one={one}
                  isChosen={chosen.has(one.spec.id)}
                  isShown={shown === one.spec.id}
                  onChosen={(isOn) => put(one.spec.id, isOn)}
                  onShown={() => setShown(shown === one.spec.id ? undefined : one.spec.id)}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}

/** What is said of imported nodes of which nothing says the kind. */
function untoldWords(count: number, by: string): string {
  const nodes = plural(count, 'imported node');
  if (by === byCaption) return `${nodes} ${count === 1 ? 'has' : 'have'} nothing to go by.`;
  if (by !== '') return `${nodes} ${count === 1 ? 'has' : 'have'} no attribute “${by}”.`;
  return `${nodes} ${count === 1 ? 'does' : 'do'} not say what kind ${count === 1 ? 'it is' : 'they are'}: choose above what says it, and look again.`;
}

function KindRow({
  one,
  isChosen,
  isShown,
  onChosen,
  onShown,
}: {
  one: LearnedKind;
  isChosen: boolean;
  isShown: boolean;
  onChosen: (isOn: boolean) => void;
  onShown: () => void;
}): ReactNode {
  const { spec } = one;
  return (
    <>
      <tr className="border-t border-line">
        <td className="p-1.5">
          <input
            type="checkbox"
            className="size-4 accent-accent"
            aria-label={`Take ${spec.title}`}
            checked={isChosen}
            onChange={(event) => onChosen(event.target.checked)}
          />
        </td>
        <td className="max-w-72 p-1.5">
          <button
            type="button"
            className="block max-w-full truncate text-left underline"
            aria-expanded={isShown}
            title={spec.id}
            onClick={onShown}
          >
            {spec.title}
          </button>
        </td>
        <td className="p-1.5 text-right tabular-nums">{one.nodes.toLocaleString('en')}</td>
        <td className="p-1.5 text-right tabular-nums">{one.files.toLocaleString('en')}</td>
        <td className="p-1.5 text-right tabular-nums">{spec.ports.length}</td>
        <td className="p-1.5 text-right tabular-nums">{spec.parameters.length}</td>
        <td className="p-1.5">{one.is === 'new' ? 'new' : plural(one.told.length, 'addition')}</td>
      </tr>
      {isShown && (
        <tr>
          <td />
          <td colSpan={6} className="p-1.5 pt-0 text-xs text-soft">
            <Details one={one} />
          </td>
        </tr>
      )}
    </>
  );
}

function Details({ one: { spec, is, told, titles, last, nodes } }: { one: LearnedKind }): ReactNode {
  const ports = (direction: 'in' | 'out'): string =>
    spec.ports
      .filter((port) => port.direction === direction)
      .map((port) => `${port.name}${port.many ? ' …' : ''} (${port.type})`)
      .join(', ') || 'none';
  return (
    <>
      <p>
        {spec.id}, in {titles.slice(0, 4).join(', ')}
        {titles.length > 4 && ` and ${titles.length - 4} more`}
        {last === nodes && spec.end && '. Nothing takes from it, so it is an end'}
      </p>
      {is === 'new' && (
        <p>
          Inputs: {ports('in')}. Outputs: {ports('out')}.
        </p>
      )}
      {is === 'new' && spec.parameters.length > 0 && (
        <ul>
          {spec.parameters.map((parameter) => (
            <li key={parameter.id}>
              {parameter.title}: {parameterWords(parameter)}
            </li>
          ))}
        </ul>
      )}
      {told.map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
    </>
  );
}
