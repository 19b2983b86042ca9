import { describe, expect, it } from 'vitest';
import { recipeSchema } from '../batch/recipe.ts';
import { runRecipe } from '../batch/run.ts';
import type { Doc } from '../document/doc.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { operate } from '../operations.ts';
import { checkRules, leftoverRules } from '../rules/rules.ts';
import { strictKinds } from '../tests/acts.ts';
import { testKinds } from '../tests/arbitrary.ts';
import { drawn } from '../tests/drawn.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { compareDocs } from './compare/compare.ts';
import { cost } from './cost.ts';
import { dependencies } from './dependencies.ts';
import { pathsBetween } from './ways.ts';

// Cases worked out by hand from docs/semantics.md and docs/inspect.md: a graph in text (core/tests/drawn.ts), a question,
// the answer. Kinds are those of core/tests/arbitrary.ts: `add` passes b, `tint` passes base, `round` and `src` nothing;
// amount of `tint`, steps and base of `shade` can be fed.

const names = (ids: Iterable<string>): string => [...ids].join(' ') || 'nothing';
const sorted = (ids: readonly { id: string }[]): string => names(ids.map(({ id }) => id).sort());

function act(doc: Doc, words: readonly string[], kinds = testKinds) {
  const [id = '', items = '', ...options] = words;
  const given = Object.fromEntries(options.map((one) => one.split('=') as [string, string]));
  const parsed = Object.fromEntries(
    Object.entries(given).map(([key, value]) => [
      key,
      value.startsWith('{') ? JSON.parse(value) : value.replaceAll('_', ' '),
    ]),
  );
  const selection = { graph: 'root', items: items === '-' ? [] : items.split(',') };
  return operate(id, createContext(kinds, 1), doc, selection, parsed);
}

/** What is asked of a graph, by the first word of the question. */
const questions: Record<string, (of: ReturnType<typeof drawn>, words: readonly string[]) => unknown> = {
  takes({ doc }, [at = '']) {
    const [node = '', port = ''] = at.split('.');
    return effectiveWiring(doc, testKinds).source(node, port)?.node ?? 'nothing';
  },
  up: ({ doc }, ids) => side(dependencies(doc, testKinds, ids).up),
  down: ({ doc }, ids) => side(dependencies(doc, testKinds, ids).down),
  ends: ({ doc }, ids) => {
    const { ends, endsIfOn } = dependencies(doc, testKinds, ids);
    return names(ends) + (endsIfOn.length > 0 ? ` | ${names(endsIfOn)}` : '');
  },
  ways({ doc }, [from = '', to = '']) {
    const found = pathsBetween(doc, testKinds, from, to);
    return found ? `${found.ifOn ? 'if on ' : ''}${found.count ?? 'without end'}` : '0';
  },
  passed: ({ doc }, [from = '', to = '']) => names(pathsBetween(doc, testKinds, from, to)?.passed ?? []),
  gone({ doc }, ids) {
    const { removed, starved, otherwise } = dependencies(doc, testKinds, ids).gone;
    const lost = starved.map(
      ({ end, inputs }) => `${end} loses ${inputs.map((one) => `${one.node}.${one.port}`).join(' ')}`,
    );
    return (
      [
        ...(removed.length > 0 ? [`${names(removed)} goes`] : []),
        ...lost,
        ...(otherwise.length > 0 ? [`${names(otherwise)} changes`] : []),
      ].join('; ') || 'nothing'
    );
  },
  idle: ({ doc }, ids) => names([...dependencies(doc, testKinds, ids).gone.idle].sort()),
  stands: ({ doc }, [id = '']) => dependencies(doc, testKinds, [id]).standing[0]?.is,
  cost({ doc, times }, [id = '']) {
    const end = cost(doc, testKinds, times).ends.find((one) => one.id === id);
    return end && `${end.ms} in all, ${end.shared} shared, ${end.critical.ms} waited over ${names(end.critical.path)}`;
  },
  waste: ({ doc, times }) => sorted(cost(doc, testKinds, times).waste.nodes),
  off: ({ doc, times }) => sorted(cost(doc, testKinds, times).off.nodes),
  longest: ({ doc, times }) => names(cost(doc, testKinds, times).critical.path),
  found: ({ doc }) =>
    names(
      [...new Set(checkRules(doc, testKinds, leftoverRules).map((item) => item.rule))].filter(
        (rule) => !/stacked|overlap|default-name|name/.test(rule),
      ),
    ),
  says: ({ doc }, words) => act(doc, words).report.summary,
  compare({ doc }, words) {
    const after = apply(doc, act(doc, words).edit);
    const { changes } = compareDocs(doc, after, { before: testKinds, after: testKinds });
    return (
      changes
        .filter(({ layer }) => layer === 'function')
        .map(({ sentence }) => sentence)
        .join(' ') || 'nothing'
    );
  },
  refuses({ doc }, words) {
    try {
      act(doc, words, strictKinds);
      return 'no';
    } catch (error) {
      return (error as Error).message;
    }
  },
};

function side({ nodes, ifOn }: { nodes: readonly { id: string }[]; ifOn: readonly { id: string }[] }): string {
  return sorted(nodes) + (ifOn.length > 0 ? ` | ${sorted(ifOn)}` : '');
}

type Case = readonly [graph: string, question: string, answer: string];

const nest = 'graph g; nested H @root holds:g; input I @g; output O @g;';

const table: Readonly<Record<string, readonly Case[]>> = {
  'the pass rule': [
    ['src S; add M bypassed; add X; S.out > M.b; M.out > X.a', 'takes X.a', 'S'],
    ['src S; add M bypassed; add X; S.out > M.a; M.out > X.a', 'takes X.a', 'nothing'],
    ['src S; tint T bypassed; end E; S.out > T.base; T.out > E.in', 'takes E.in', 'S'],
    ['src S; tint T bypassed; end E; S.out > T.amount; T.out > E.in', 'takes E.in', 'nothing'],
    ['src S bypassed; add X; S.out > X.a', 'takes X.a', 'nothing'],
    ['src S; round R bypassed; shade D; S.out > R.in; R.out > D.steps', 'takes D.steps', 'nothing'],
    ['src S; add M bypassed; add N bypassed; add X; S.out > M.b; M.out > N.b; N.out > X.a', 'takes X.a', 'S'],
    ['src S; add X; S.out > X.a off', 'takes X.a', 'nothing'],
    ['src S; add M bypassed; add X; S.out > M.b off; M.out > X.a', 'takes X.a', 'nothing'],
    ['add M bypassed; add N bypassed; add X; M.out > N.b; N.out > M.b; M.out > X.a', 'takes X.a', 'nothing'],
  ],
  'what only carries data': [
    ['src S; reroute R; reroute Q; add X; S.out > R.in; R.out > Q.in; Q.out > X.a', 'takes X.a', 'S'],
    ['reroute R; reroute Q; add X; Q.out > R.in; R.out > Q.in; Q.out > X.a', 'takes X.a', 'nothing'],
    ['src S; beacon B; tap T hears:B; add X; S.out > B.in; T.out > X.a', 'takes X.a', 'S'],
    ['tap T hears:B; add X; T.out > X.a', 'takes X.a', 'nothing'],
    ['beacon B; tap T hears:B; add X; T.out > X.a', 'takes X.a', 'nothing'],
    [`${nest} src S; beacon B; tap T @g hears:=B; add X @g; S.out > B.in; T.out > X.a`, 'takes X.a', 'S'],
    [
      `${nest} src S; src N @g; beacon B called:Light; beacon C @g called:Light; tap T @g hears:=Light; add X @g; S.out > B.in; N.out > C.in; T.out > X.a`,
      'takes X.a',
      'N',
    ],
    [
      `${nest} src S; src N @g; beacon B; beacon C @g called:B; tap T @g hears:B; add X @g; S.out > B.in; N.out > C.in; T.out > X.a`,
      'takes X.a',
      'S',
    ],
  ],
  'nested graphs': [
    [`${nest} src S; add X @g; S.out > H.I; I.out > X.a`, 'takes X.a', 'S'],
    [`${nest} src N @g; add X; N.out > O.in; H.O > X.a`, 'takes X.a', 'N'],
    [`${nest} src S; add X; I.out > O.in; S.out > H.I; H.O > X.a`, 'takes X.a', 'S'],
    [
      'graph g; nested H bypassed holds:g; input I @g; output O @g; src S; src N @g; add X; S.out > H.I; N.out > O.in; H.O > X.a',
      'takes X.a',
      'S',
    ],
    [
      'graph g; nested H bypassed holds:g; output O @g; src N @g; add X; N.out > O.in; H.O > X.a',
      'takes X.a',
      'nothing',
    ],
    [
      `${nest} graph d; nested K @g holds:d; input J @d; add X @d; src S; S.out > H.I; I.out > K.J; J.out > X.a`,
      'takes X.a',
      'S',
    ],
  ],
  'standing feeds': [
    ['src S; feed F; tint K; S.out > F.in', 'takes K.amount', 'S'],
    ['src S; src T; feed F; tint K; S.out > F.in; T.out > K.amount', 'takes K.amount', 'T'],
    ['src S; src T; feed F; tint K; S.out > F.in; T.out > K.amount off', 'takes K.amount', 'nothing'],
    ['frame bay; src S; feed F in:bay; tint K; S.out > F.in', 'takes K.amount', 'nothing'],
    ['frame bay; frame nook in:bay; src S; feed F in:bay; tint K in:nook; S.out > F.in', 'takes K.amount', 'S'],
    [
      'frame bay; src S; src N; feed F; feed G in:bay; tint K in:bay; S.out > F.in; N.out > G.in',
      'takes K.amount',
      'N',
    ],
    ['src S; src N; feed F; feed G; tint K; S.out > F.in; N.out > G.in', 'takes K.amount', 'nothing'],
    [
      'frame bay; src S; src N; feed F; feed G in:bay; feed P in:bay; tint K in:bay; S.out > F.in; N.out > G.in; S.out > P.in',
      'takes K.amount',
      'nothing',
    ],
    ['tint S; feed F for:num; tint K; S.out > F.in', 'takes S.amount', 'nothing'],
    ['src S; feed F; tint K bypassed; S.out > F.in', 'takes K.amount', 'nothing'],
    [`${nest} src S; feed F; tint K @g; S.out > F.in`, 'takes K.amount', 'S'],
    ['src S; feed F for:int; tint K; S.out > F.in', 'takes K.amount', 'nothing'],
    ['frame bay; src S; feed F; feed G in:bay; tint K in:bay; S.out > F.in', 'takes K.amount', 'nothing'],
    [
      'frame bay; src S; src N; feed F; feed G in:bay bypassed; tint K in:bay; S.out > F.in; N.out > G.in',
      'takes K.amount',
      'S',
    ],
    ['frame bay; src S; feed F in:bay covers:root; tint K; S.out > F.in', 'takes K.amount', 'S'],
    [
      'frame bay; frame pier; src S; feed F in:bay covers:pier; tint K in:pier; S.out > F.in',
      'takes K.amount',
      'nothing',
    ],
    [`${nest} src S @g; feed F @g covers:root; tint K; S.out > F.in`, 'takes K.amount', 'S'],
    ['tint K; src S reads:K; feed F; S.out > F.in', 'takes K.amount', 'nothing'],
  ],
  'who depends on whom, now and if everything were on': [
    ['src S; reroute R; add X; S.out > R.in; R.out > X.a', 'down S', 'X'],
    ['src P; add B bypassed; add G; P.out > B.b; B.out > G.a', 'down P', 'G | B'],
    ['src P; add B bypassed; add G; P.out > B.b; B.out > G.a', 'down B', 'nothing | G'],
    ['src P; add B bypassed; add G; P.out > B.b; B.out > G.a', 'up G', 'P | B'],
    ['src P; add B bypassed; add G; P.out > B.b; B.out > G.a', 'up B', 'nothing | P'],
    ['src S; add X; S.out > X.a off', 'down S', 'nothing | X'],
    ['src S; src M reads:S; add X; M.out > X.a', 'down S', 'M X'],
    ['src S bypassed; src M reads:S', 'down S', 'M'],
    [
      'graph g; nested H bypassed holds:g; input I @g; src S; add X @g; S.out > H.I; I.out > X.a',
      'down S',
      'nothing | X',
    ],
    [
      'graph g; nested H bypassed holds:g; src N @g; beacon B @g; tap T hears:B; add X; N.out > B.in; T.out > X.a',
      'down N',
      'X',
    ],
    ['src S; feed F; tint K; S.out > F.in', 'up K', 'S'],
    ['beacon B; tap T hears:B; add X; T.out > X.a', 'down B', 'X'],
  ],
  'ways between two': [
    ['src S; add A; add B; add M; S.out > A.a; S.out > B.a; A.out > M.a; B.out > M.b', 'ways S M', '2'],
    ['src S; add M; S.out > M.a; S.out > M.b', 'ways S M', '1'],
    ['src S; add M; S.out > M.a', 'ways M S', '1'],
    ['src S; src T', 'ways S T', '0'],
    ['src P; add B bypassed; add G; P.out > B.b; B.out > G.a', 'ways B G', 'if on 1'],
    ['src S; add A; add B; S.out > A.a; A.out > B.a; B.out > A.b; B.out > C.a; add C', 'ways S C', 'without end'],
    [
      `${nest} src S; add A @g; add B @g; add C @g; end E; S.out > H.I; I.out > A.a; I.out > B.a; A.out > C.a; B.out > C.b; C.out > O.in; H.O > E.in`,
      'ways S E',
      '1',
    ],
    [
      `${nest} src S; add A @g; add B @g; end E; S.out > H.I; I.out > A.a; A.out > B.a; B.out > O.in; H.O > E.in`,
      'ways H E',
      '1',
    ],
    [
      `${nest} src S; add A @g; add B @g; end E; S.out > H.I; I.out > A.a; A.out > B.a; B.out > O.in; H.O > E.in`,
      'passed S E',
      'H',
    ],
    ['src S; add A; add B; add M; S.out > A.a; S.out > B.a; A.out > M.a; B.out > M.b', 'passed S M', 'nothing'],
  ],
  'ends, and what would be lost': [
    ['src S; end E; S.out > E.in', 'ends S', 'E'],
    ['src S; end E bypassed; S.out > E.in; end F', 'ends S', 'nothing | E'],
    [
      'graph g; nested H bypassed holds:g; input I @g; end E @g; end F; src S; S.out > H.I; I.out > E.in',
      'ends S',
      'nothing | E',
    ],
    ['src S; output O; S.out > O.in', 'ends S', 'O'],
    ['src S; end E; S.out > E.in', 'gone S', 'E loses E.in'],
    ['src S; add M; end E; S.out > M.b; M.out > E.in', 'gone M', 'E changes'],
    ['src S; end E; S.out > E.in', 'gone E', 'E goes'],
    [
      `${nest} src P; beacon B; tap T @g hears:B; tint G @g; end E; P.out > B.in; T.out > G.amount; G.out > O.in; H.O > E.in`,
      'gone P',
      'E loses G.amount',
    ],
    [
      'src S; feed F; tint K; tint L; end E; end D; S.out > F.in; K.out > E.in; L.out > D.in',
      'gone F',
      'D loses L.amount; E loses K.amount',
    ],
    ['src S; src T; add M; end E; S.out > M.a; T.out > M.b; M.out > E.in', 'idle M', 'S'],
  ],
  'how a node stands': [
    ['src S; end E; S.out > E.in', 'stands S', 'used'],
    ['src S; end E; S.out > E.in off', 'stands S', 'waits'],
    ['src S; end E', 'stands S', 'unused'],
    ['src S bypassed; end E; S.out > E.in', 'stands S', 'bypassed'],
    ['graph g; nested H bypassed holds:g; src N @g; end E', 'stands N', 'inside-bypassed'],
  ],
  'what ends cost': [
    [
      'src S ms:4; add A ms:6; end E ms:1; S.out > A.a; A.out > E.in',
      'cost E',
      '11 in all, 0 shared, 11 waited over S A E',
    ],
    [
      'src S ms:4; add A ms:6; end E; add B ms:3; end F; S.out > A.a; S.out > B.a; A.out > E.in; B.out > F.in',
      'cost F',
      '7 in all, 4 shared, 7 waited over S B',
    ],
    ['src S ms:4; end E; S.out > E.in; src L ms:90', 'longest', 'S'],
    ['src S ms:4; end E; S.out > E.in; src L ms:90', 'waste', 'L'],
    ['graph g; nested H bypassed holds:g; src N @g ms:50; end E', 'off', 'N'],
    [
      'src S ms:4; add B bypassed ms:9; end E; S.out > B.b; B.out > E.in',
      'cost E',
      '4 in all, 0 shared, 4 waited over S',
    ],
  ],
  'what is found': [
    ['src S; src N; feed F; feed G; tint K; end E; S.out > F.in; N.out > G.in; K.out > E.in', 'found', 'feed-clash'],
    [
      'shade A; shade B; feed F for:col; feed G for:int; end E; A.out > F.in; B.count > G.in; A.out > E.in',
      'found',
      'feed-loop cycle',
    ],
    ['src S; feed F; end E; S.out > F.in; S.out > E.in', 'found', 'idle-feed'],
    [
      'frame bay; src S; feed F; feed G in:bay; tint K in:bay; tint L; end E; end D; S.out > F.in; S.out > G.in; K.out > E.in; L.out > D.in',
      'found',
      'shadowed-feed',
    ],
    ['src M reads:gone; end E; M.out > E.in', 'found', 'lost-end'],
    ['src A reads:B; src B reads:A; end E; B.out > E.in', 'found', 'cycle'],
  ],
  'what acts say': [
    ['src S; feed F called:Light; tint K; frame bay; S.out > F.in', 'says frame F,S', 'Framed 2 nodes as “Basics”.'],
    [
      'src S; feed F; tint K called:Kelp; S.out > F.in',
      'says frame F,S supply=let_go',
      'Framed 2 nodes as “Basics”. 1 input has lost its number: “Kelp”.',
    ],
    [
      'src S; feed F; tint K called:Kelp; S.out > F.in',
      'says delete F',
      'Deleted 1 node. 1 input has lost its number: “Kelp”.',
    ],
    [
      'src S; add M; add X; add Y; S.out > M.b; M.out > X.a; M.out > Y.a',
      'says bypass M',
      'Bypassed 1 node. 2 inputs take something else now: “X” and “Y”.',
    ],
    ['src S; src M reads:S', 'says delete S', 'Deleted 1 node. 1 expression has lost what it reads: “M”.'],
    [
      'src S; add M; add X; add Y; S.out > M.b; M.out > X.a; M.out > Y.a',
      'compare bypass M',
      '“M” is bypassed: 2 inputs take “S” now.',
    ],
    ['src S; beacon B; tap T hears:B; add X; S.out > B.in; T.out > X.a', 'compare rename B name=Moon', 'nothing'],
    [
      'src S; add M; src Z; M.out > M2.a; add M2',
      'refuses set-parameter S parameter=value value={"expression":[{"node":"S","parameter":"value"}]}',
      'The expression would close a loop: “S” depends on “S”, and loops are not allowed here.',
    ],
  ],
};

describe.each(Object.entries(table))('%s', (_group, cases) => {
  it.each(cases)('%s — %s: %s', (graph, question, answer) => {
    const [what = '', ...words] = question.split(' ');
    expect(questions[what]!(drawn(graph), words)).toBe(answer);
  });
});

it('there are eighty and more', () => {
  expect(Object.values(table).flat().length).toBeGreaterThanOrEqual(80);
});

it('fixing all leaves a clash to be chosen', async () => {
  const { doc } = drawn('src S; src N; feed F; feed G; tint K; end E; S.out > F.in; N.out > G.in; K.out > E.in');
  const recipe = recipeSchema.parse({ steps: [{ do: 'fix', rules: ['feed-clash', 'unused', 'unreachable'] }] });
  const { doc: after } = await runRecipe(doc, recipe, { kinds: testKinds, seed: 1, catalogues: [] });
  expect([...after.nodes.keys()].sort()).toEqual([...doc.nodes.keys()].sort());
});
