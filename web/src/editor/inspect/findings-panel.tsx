import type { Id } from '@basitax/core/document/ids';
import type { Finding } from '@basitax/core/finding';
import { plural } from '@basitax/core/operation';
import { operationById } from '@basitax/core/operations';
import { readPaths } from '@basitax/core/rules/kept';
import type { Facts, Rule } from '@basitax/core/rules/rule';
import { usualRules } from '@basitax/core/rules/rules';
import { useQuery } from '@tanstack/react-query';
import { CircleAlert, Info, TriangleAlert } from 'lucide-react';
import { type ReactNode, useMemo, useState } from 'react';
import { api } from '../../api/client.ts';
import { Button, Segments } from '../../ui/controls.tsx';
import { adviceRunner, drawRunner } from '../../work/runner.ts';
import { perform, whyNot } from '../actions.ts';
import { SidePanel } from '../panels/side.tsx';
import { type Editing, showGraph, useEditing } from '../store.ts';
import { called, goTo, Part, Waiting, whereIs } from './parts.tsx';
import { useTask } from './use-task.ts';

type Group = 'leftovers' | 'all';
const icons = { error: CircleAlert, warning: TriangleAlert, info: Info } as const;
const first = 12;

/** What house rules find: what was left over, and what makes the graph hard to read or to trust; each with a way to it and a way to mend it. */
export function FindingsPanel(): ReactNode {
  const state = useEditing();
  const [group, setGroup] = useState<Group>('leftovers');
  const facts = useFacts(state);
  const some = usualRules.filter((rule) => group === 'all' || rule.group === 'leftovers');
  const { answer, problem } = useTask('findings', { rules: some.map((rule) => rule.id), facts: facts.facts }, group === 'all' ? drawRunner : adviceRunner);
  return (
    <SidePanel
      id="leftovers"
      title="Leftovers and findings"
      about="In all graphs of the file. Click a finding to go there; its fix is shown or can be undone."
      footer={<p className="text-xs text-soft">{answer ? `${plural(answer.length, 'finding')} by ${plural(some.length, 'rule')}.` : 'Looking …'}</p>}
    >
      <Segments<Group>
        label="Which rules"
        value={group}
        choices={[
          ['leftovers', 'Leftovers'],
          ['all', 'All rules'],
        ]}
        onChoose={setGroup}
      />
      {group === 'all' && facts.problem && <p className="text-xs text-warn">Assets were not checked: {facts.problem}</p>}
      {!answer ? <Waiting problem={problem} what="Looking" /> : answer.length === 0 ? <p className="text-soft">Nothing was found: the file is tidy.</p> : null}
      {answer && some.map((rule) => <OfRule key={rule.id} rule={rule} found={answer.filter((item) => item.rule === rule.id)} state={state} />)}
    </SidePanel>
  );
}

/** What rules have to know beside the document: whether assets are there, since when nodes are bypassed. */
function useFacts({ doc, kinds, fileId }: Editing): { facts: Facts; problem: string | undefined } {
  const paths = useMemo(() => [...new Set(readPaths(doc, kinds).map((one) => one.path))].sort(), [doc, kinds]);
  const assets = useQuery({ queryKey: ['assets', paths], queryFn: () => api.checkAssets(paths), enabled: paths.length > 0, staleTime: 60_000, retry: false });
  const since = useQuery({ queryKey: ['bypassed', fileId], queryFn: () => api.bypassed(fileId), staleTime: 60_000, retry: false });
  return {
    facts: useMemo(() => ({ ...(assets.data && { assets: assets.data }), ...(since.data && { bypassedSince: since.data }) }), [assets.data, since.data]),
    problem: assets.error?.message,
  };
}

function OfRule({ rule, found, state }: { rule: Rule; found: readonly Finding[]; state: Editing }): ReactNode {
  const [most, setMost] = useState(first);
  if (found.length === 0) return null;
  return (
    <Part title={rule.title} aside={found.length.toLocaleString('en')}>
      <p className="text-xs text-soft">{rule.why}</p>
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

function Row({ item, state }: { item: Finding; state: Editing }): ReactNode {
  const { doc, kinds, graph } = state;
  const id = item.place.at(-1);
  const Icon = icons[item.severity];
  const where = id === undefined ? '' : whereIs(doc, called(doc, kinds, id).graph, graph);
  const mend = item.fix && operationById(item.fix.operation);
  return (
    <li className="flex items-start gap-1.5 border-b border-line py-1">
      <Icon size={14} aria-label={item.severity} className={`mt-0.5 shrink-0 ${item.severity === 'info' ? 'text-soft' : 'text-warn'}`} />
      <button type="button" className="min-w-0 flex-1 text-left break-words hover:underline" onClick={() => id !== undefined && goTo(doc, kinds, id)}>
        {item.message}
        {where !== '' && <span className="text-xs text-soft"> In {where}.</span>}
      </button>
      {mend && (
        <Button
          className="h-6 px-2 text-xs"
          title={`${mend.title}: ${mend.about}`}
          aria-label={`Fix: ${item.message}`}
          dim={whyNot(mend, { ...state, selection: item.fix!.selection })}
          onClick={() => fixIt(item, state)}
        >
          Fix
        </Button>
      )}
    </li>
  );
}

/** Does the fix in the graph where the finding lies. */
function fixIt({ fix, place }: Finding, { doc, kinds, graph }: Editing): void {
  const id: Id | undefined = place.at(-1);
  const at = id === undefined ? graph : (called(doc, kinds, id).graph ?? graph);
  if (at !== graph && !showGraph(at, [])) return;
  void perform(fix!.operation, (fix!.options ?? {}) as Record<string, unknown>, fix!.selection);
}
