import type { Id } from '@basitax/core/document/ids';
import type { Edit } from '@basitax/core/edit/step';
import type { Finding, Fix } from '@basitax/core/finding';
import { Cancelled } from '@basitax/core/operation';
import { operationById } from '@basitax/core/operations';
import type { Facts } from '@basitax/core/rules/facts';
import { readPaths } from '@basitax/core/rules/kept';
import { askedBy } from '@basitax/core/rules/profile';
import type { Profile } from '@basitax/core/rules/profile-schema';
import type { Rule } from '@basitax/core/rules/rule';
import { rules } from '@basitax/core/rules/rules';
import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import { CircleAlert, Info, TriangleAlert } from 'lucide-react';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { batchOver } from '../../batch/aim.ts';
import { onlyRule, useHouseRules, withoutRules } from '../../rules/house.ts';
import { Button, Check, Segments } from '../../ui/controls.tsx';
import { adviceRunner, measureRunner, scriptRunner } from '../../work/runner.ts';
import { perform, plannedSeed, showEdit, whyNot } from '../actions.ts';
import { withJob } from '../job.ts';
import { whyNoEdit } from '../may-edit.ts';
import { openMenuOf } from '../menu/menu.ts';
import { SidePanel } from '../panels/side.tsx';
import { refuse } from '../sentences.ts';
import { type Editing, showGraph, useEditing, useEditor } from '../store.ts';
import { type Marks, showMarks } from './marks.ts';
import { called, goTo, Part, Waiting, whereIs } from './parts.tsx';
import { useTask } from './use-task.ts';

type Group = 'leftovers' | 'all';
const icons = { error: CircleAlert, warning: TriangleAlert, info: Info } as const;
const first = 12;

/**
 * What the house rules of the project find: what was left over, and what makes the graph hard to read or to trust; each
 * with a way to it and a way to mend it.
 */
export function FindingsPanel(): ReactNode {
  const state = useEditing();
  const [group, setGroup] = useState<Group>('leftovers');
  const [marked, setMarked] = useState(true);
  const facts = useFacts(state);
  const house = useHouseRules(state.fileId);
  const { profile } = house.rules;
  const some = useMemo(
    () =>
      askedBy(profile)
        .map(({ rule }) => rule)
        .filter((rule) => group === 'all' || rule.group === 'leftovers'),
    [profile, group],
  );
  const ids = some.map((rule) => rule.id);
  const { answer, problem } = useTask(
    'findings',
    { rules: ids, profile, facts: facts.facts },
    group === 'all' ? measureRunner : adviceRunner,
  );
  const isPreviewed = state.preview !== undefined;
  useEffect(() => {
    // what is previewed is another state than the one that was asked about
    showMarks(answer && marked && !isPreviewed ? { found: foundAt(answer) } : undefined);
    return () => showMarks();
  }, [answer, marked, isPreviewed]);
  const mendable = answer?.filter((item) => item.fix).length ?? 0;
  const others = rules.flatMap((rule) => (ids.includes(rule.id) ? [] : [rule.id]));
  return (
    <SidePanel
      id="leftovers"
      title="Leftovers and findings"
      about="In all graphs of the file. Click a finding to go there; its fix is shown or can be undone."
      footer={
        <div className="flex items-center gap-2 text-xs text-soft">
          <span className="min-w-0 flex-1">
            {answer ? `${plural(answer.length, 'finding')} by ${plural(some.length, 'rule')}.` : 'Looking …'}
          </span>
          <Button
            className="h-7"
            title="Shows what doing all these fixes would change, before it is done"
            dim={whyNoEdit(state) ?? (mendable === 0 ? 'None of these has a fix.' : undefined)}
            onClick={() => void fixAll('Fix all', withoutRules(profile, others))}
          >
            Fix all {mendable > 0 && mendable.toLocaleString('en')}
          </Button>
        </div>
      }
    >
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <Segments<Group>
          label="Which rules"
          value={group}
          choices={[
            ['leftovers', 'Leftovers'],
            ['all', 'All rules'],
          ]}
          onChoose={setGroup}
        />
        <Check label="On the canvas" checked={marked} onChange={setMarked} />
      </div>
      <p className="text-xs text-soft">
        As{' '}
        <a
          className="underline"
          href={`/rules${house.project ? `?project=${house.project}` : ''}`}
          target="_blank"
          rel="noreferrer"
        >
          the house rules of its project
        </a>{' '}
        have them.
      </p>
      {house.problem && (
        <p className="text-xs text-warn">
          The rules of the project could not be read, so the defaults are used: {house.problem}
        </p>
      )}
      {group === 'all' && facts.problem && (
        <p className="text-xs text-warn">Assets were not checked: {facts.problem}</p>
      )}
      {!answer ? (
        <Waiting problem={problem} what="Looking" />
      ) : answer.length === 0 ? (
        <p className="text-soft">No findings: the file is tidy.</p>
      ) : null}
      {answer &&
        some.map((rule) => (
          <OfRule
            key={rule.id}
            rule={rule}
            found={answer.filter((item) => item.rule === rule.id)}
            state={state}
            onFixAll={() => void fixAll(rule.title, onlyRule(profile, rule.id))}
          />
        ))}
    </SidePanel>
  );
}

/** How many findings there are at each thing, and the gravest of them: they come with the gravest first. */
function foundAt(found: readonly Finding[]): NonNullable<Marks['found']> {
  const at = new Map<Id, { severity: Finding['severity']; count: number }>();
  for (const { place, severity } of found) {
    const id = place.at(-1);
    if (id !== undefined)
      at.set(id, { severity: at.get(id)?.severity ?? severity, count: (at.get(id)?.count ?? 0) + 1 });
  }
  return at;
}

/** How many nodes an edit takes away and adds, in words. */
function comesAndGoes({ steps }: Edit): string {
  const count = (type: 'add' | 'remove'): number =>
    steps.filter((step) => step.type === type && step.table === 'nodes').length;
  return [
    [count('remove'), 'removed'],
    [count('add'), 'added'],
  ]
    .flatMap(([number, word]) =>
      number === 0 ? [] : [`${plural(number as number, 'node')} ${number === 1 ? 'is' : 'are'} ${word}.`],
    )
    .join(' ');
}

/** Shows what all fixes of some rules would do together, as the step “Fix” of a recipe does them. */
async function fixAll(title: string, profile: Profile): Promise<void> {
  const { doc, catalogue } = useEditor.getState();
  try {
    const { outcome, revised } = await withJob(title, (job) =>
      scriptRunner.run(
        'recipe',
        { recipe: { steps: [{ do: 'fix', profile }] }, seed: plannedSeed, catalogues: [], profile },
        { doc, catalogue, ...job },
      ),
    );
    if (useEditor.getState().doc !== doc) throw refuse('graph-changed');
    if (revised)
      showEdit(title, {
        edit: revised.edit,
        report: {
          summary: `${outcome.steps.map((step) => step.summary).join(' ')} ${comesAndGoes(revised.edit)}`.trim(),
          findings: [],
        },
      });
    else toast(title, { description: outcome.why || 'No fix could be applied automatically. Look at each finding.' });
  } catch (error) {
    if (!(error instanceof Cancelled))
      toast.error(`${title} could not be planned`, { description: (error as Error).message });
  }
}

/** What rules have to know beside the document: whether assets are there, since when nodes are bypassed. */
function useFacts({ doc, kinds, fileId }: Editing): { facts: Facts; problem: string | undefined } {
  const paths = useMemo(() => [...new Set(readPaths(doc, kinds).map((one) => one.path))].sort(), [doc, kinds]);
  const assets = useQuery({
    queryKey: ['assets', paths],
    queryFn: () => api.checkAssets(paths),
    enabled: paths.length > 0,
    staleTime: 60_000,
    retry: false,
  });
  const since = useQuery({
    queryKey: ['bypassed', fileId],
    queryFn: () => api.bypassed(fileId),
    staleTime: 60_000,
    retry: false,
  });
  return {
    facts: useMemo(
      () => ({ ...(assets.data && { assets: assets.data }), ...(since.data && { bypassedSince: since.data }) }),
      [assets.data, since.data],
    ),
    problem: assets.error?.message,
  };
}

function OfRule({
  rule,
  found,
  state,
  onFixAll,
}: {
  rule: Rule;
  found: readonly Finding[];
  state: Editing;
  onFixAll: () => void;
}): ReactNode {
  const [most, setMost] = useState(first);
  if (found.length === 0) return null;
  const mendable = found.filter((item) => item.fix).length;
  return (
    <Part title={rule.title} aside={found.length.toLocaleString('en')}>
      <p className="text-xs text-soft">
        {rule.why}{' '}
        <a className="underline" href={`/rules/${rule.id}`} target="_blank" rel="noreferrer">
          About this rule
        </a>{' '}
        <a className="underline" href={batchOver(`finding=${rule.id}`)} target="_blank" rel="noreferrer">
          Batch run over all files with it …
        </a>
      </p>
      {mendable > 1 && (
        <Button
          className="h-6 self-start px-2 text-xs"
          aria-label={`Fix all of ${rule.title}`}
          dim={whyNoEdit(state)}
          onClick={onFixAll}
        >
          Fix these {mendable.toLocaleString('en')}
        </Button>
      )}
      <ul aria-label={rule.title}>
        {found.slice(0, most).map((item) => (
          <Row key={`${item.place.join()} ${item.message}`} item={item} state={state} />
        ))}
      </ul>
      {found.length > most && (
        <button type="button" className="self-start text-xs text-soft underline" onClick={() => setMost(most * 6)}>
          {(found.length - most).toLocaleString('en')} more
        </button>
      )}
    </Part>
  );
}

/** What could be meant, each a button: nobody but the person can tell. */
function Choices({
  item,
  choices,
  state,
}: {
  item: Finding;
  choices: NonNullable<Finding['choices']>;
  state: Editing;
}): ReactNode {
  return (
    <span className="flex shrink-0 flex-col gap-1">
      {choices.map((one) => (
        <Button
          key={one.title}
          className="h-6 max-w-36 truncate px-2 text-xs"
          title={one.title}
          dim={whyNot(operationById(one.operation), { ...state, selection: one.selection })}
          onClick={() => fixIt(one, item, state)}
        >
          {one.title}
        </Button>
      ))}
    </span>
  );
}

function Row({ item, state }: { item: Finding; state: Editing }): ReactNode {
  const { doc, kinds, graph } = state;
  const id = item.place.at(-1);
  const Icon = icons[item.severity];
  const where = id === undefined ? '' : whereIs(doc, called(doc, kinds, id).graph, graph);
  const mend = item.fix && operationById(item.fix.operation);
  return (
    <li
      className="flex items-start gap-1.5 border-b border-line py-1"
      onContextMenu={(event) => id !== undefined && openMenuOf([id], event)}
    >
      <Icon
        size={14}
        aria-label={item.severity}
        className={`mt-0.5 shrink-0 ${item.severity === 'info' ? 'text-soft' : 'text-warn'}`}
      />
      <button
        type="button"
        className="min-w-0 flex-1 text-left break-words hover:underline"
        onClick={() => id !== undefined && goTo(doc, kinds, id)}
      >
        {item.message}
        {where !== '' && <span className="text-xs text-soft"> In {where}.</span>}
      </button>
      {mend && (
        <Button
          className="h-6 px-2 text-xs"
          title={`${mend.title}: ${mend.about}`}
          aria-label={`Fix: ${item.message}`}
          dim={whyNot(mend, { ...state, selection: item.fix.selection })}
          onClick={() => item.fix && fixIt(item.fix, item, state)}
        >
          Fix
        </Button>
      )}
      {item.choices && <Choices item={item} choices={item.choices} state={state} />}
    </li>
  );
}

/** Does the fix in the graph where the finding lies. */
function fixIt({ operation, selection, options }: Fix, { place }: Finding, { doc, kinds, graph }: Editing): void {
  const id: Id | undefined = place.at(-1);
  const at = id === undefined ? graph : (called(doc, kinds, id).graph ?? graph);
  if (at !== graph && !showGraph(at, [])) return;
  void perform(operation, (options ?? {}) as Record<string, unknown>, selection);
}
