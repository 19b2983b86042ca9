import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Laid } from '@basitax/core/tests/engines';
import { judge, type Verdict } from '@basitax/core/tests/judge';
import { type EngineName, withOurWires } from './engines.ts';
import { demoGraphs, exampleGraphs, generatedGraphs, libraryGraphs, type NamedGraph } from './graphs.ts';
import { plainGraph } from './plain.ts';

const engineNames: readonly EngineName[] = ['quick', 'best', 'elkjs', 'dagre', 'dot'];
/** A reference that does not finish in this time is not compared, in milliseconds of wall clock. */
const patience = 120_000;

/** One graph through one engine. */
export interface Run {
  readonly graph: string;
  readonly family: NamedGraph['family'];
  readonly nodes: number;
  readonly wires: number;
  readonly engine: EngineName;
  readonly ms: number;
  readonly mb: number;
  /** With the wires as the engine draws them; ours are always drawn by our router. */
  readonly own: Verdict;
  /** With our router over the engine's positions. */
  readonly routed: Verdict;
}

interface Answer extends Laid {
  readonly ms: number;
  readonly mb: number;
  readonly error?: string;
}

/** Lays the graphs out by one engine in a process of its own; undefined for those that did not finish in time. */
function layAll(engine: EngineName, graphs: readonly NamedGraph[]): Promise<(Answer | undefined)[]> {
  const folder = mkdtempSync(join(tmpdir(), 'basitax-bench-'));
  const input = join(folder, 'graphs.json');
  writeFileSync(input, JSON.stringify(graphs.map(({ graph }) => plainGraph(graph))));
  const child = spawn(
    process.execPath,
    ['--stack-size=4000', '--import', 'tsx', fileURLToPath(new URL('child.ts', import.meta.url)), engine, input],
    {
      stdio: ['ignore', 'pipe', 'ignore'],
    },
  );
  const parts: Buffer[] = [];
  child.stdout.on('data', (part: Buffer) => parts.push(part));
  return new Promise((done) => {
    const timer = setTimeout(() => child.kill('SIGKILL'), patience * Math.max(1, graphs.length / 8));
    child.on('exit', () => {
      clearTimeout(timer);
      rmSync(folder, { recursive: true, force: true });
      const lines = Buffer.concat(parts).toString().split('\n').filter(Boolean);
      done(graphs.map((_, i) => (lines[i] === undefined ? undefined : readAnswer(lines[i]))));
    });
  });
}

function readAnswer(line: string): Answer | undefined {
  try {
    const answer = JSON.parse(line) as Answer;
    return answer.error === undefined ? answer : undefined;
  } catch (error) {
    if (error instanceof SyntaxError) return undefined;
    throw error;
  }
}

async function compare(
  graphs: readonly NamedGraph[],
  names: readonly EngineName[],
  say: (text: string) => void,
): Promise<Run[]> {
  const runs: Run[] = [];
  for (const engine of names) {
    const answers = await layAll(engine, graphs);
    answers.forEach((answer, i) => {
      const { name, family, graph } = graphs[i]!;
      if (!answer) {
        say(`${name}: ${engine} did not finish`);
        return;
      }
      const routed = judge(graph, withOurWires(graph, answer));
      const isOurs = engine === 'quick' || engine === 'best';
      const own = isOurs ? routed : judge(graph, answer);
      runs.push({
        graph: name,
        family,
        nodes: graph.count,
        wires: graph.from.length,
        engine,
        ms: Math.round(answer.ms),
        mb: answer.mb,
        own,
        routed,
      });
    });
  }
  for (const run of graphs.length === 1 ? runs : [])
    say(
      `${run.graph}: ${run.engine} ${run.ms} ms, ${run.own.crossings} crossings, ${run.routed.crossings} by our router, ${run.own.through} through nodes`,
    );
  return runs;
}

/**
 * Every graph through every engine. `sizes` are those of the generated graphs; with `only` ours, the others are left
 * out.
 */
export async function runArrange(sizes: readonly number[], only: readonly EngineName[] = engineNames): Promise<Run[]> {
  const say = (text: string): void => console.error(text);
  const runs: Run[] = [];
  for (const graph of [...generatedGraphs(sizes), ...demoGraphs()]) runs.push(...(await compare([graph], only, say)));
  runs.push(...(await compare(exampleGraphs(), only, say)));
  runs.push(...(await compare(libraryGraphs(), only, say)));
  return runs;
}

export interface Ratio {
  readonly family: string;
  readonly graphs: number;
  readonly quality: 'quick' | 'best';
  /**
   * Geometric means of (our crossings + 1) ÷ (theirs + 1): each engine as it draws, and with our router over its
   * positions.
   */
  readonly elkjs: string;
  readonly dagre: string;
  readonly dot: string;
  /** Against the best of the three on each graph. */
  readonly bestOfThree: string;
  readonly worst: string;
}

/** The comparison as the goals are worded. */
export function ratios(runs: readonly Run[]): Ratio[] {
  const rows: Ratio[] = [];
  const families = [...new Set(runs.map((run) => run.family)), 'all'];
  for (const quality of ['quick', 'best'] as const) {
    for (const family of families) {
      const names = [
        ...new Set(runs.filter((run) => family === 'all' || run.family === family).map((run) => run.graph)),
      ];
      const of = (graph: string, engine: EngineName): Run | undefined =>
        runs.find((run) => run.graph === graph && run.engine === engine);
      const mean = (engine: EngineName, which: 'own' | 'routed'): string => {
        const logs = names.flatMap((name) => {
          const [ours, theirs] = [of(name, quality), of(name, engine)];
          return ours && theirs ? [Math.log((ours.own.crossings + 1) / (theirs[which].crossings + 1))] : [];
        });
        return logs.length === 0 ? '–' : Math.exp(logs.reduce((sum, one) => sum + one, 0) / logs.length).toFixed(2);
      };
      const against = names.flatMap((name) => {
        const ours = of(name, quality);
        const theirs = (['elkjs', 'dagre', 'dot'] as const).flatMap((engine) => of(name, engine)?.own.crossings ?? []);
        return ours && theirs.length > 0 ? [{ name, ours: ours.own.crossings, best: Math.min(...theirs) }] : [];
      });
      const logs = against.map(({ ours, best }) => Math.log((ours + 1) / (best + 1)));
      const over = against.filter(({ ours, best }) => ours > 1.1 * best && ours > best + 3);
      rows.push({
        family,
        graphs: names.length,
        quality,
        elkjs: `${mean('elkjs', 'own')} / ${mean('elkjs', 'routed')}`,
        dagre: `${mean('dagre', 'own')} / ${mean('dagre', 'routed')}`,
        dot: `${mean('dot', 'own')} / ${mean('dot', 'routed')}`,
        bestOfThree:
          logs.length === 0 ? '–' : Math.exp(logs.reduce((sum, one) => sum + one, 0) / logs.length).toFixed(2),
        worst:
          over.length === 0 ? 'none over' : over.map(({ name, ours, best }) => `${name} ${ours} : ${best}`).join('; '),
      });
    }
  }
  return rows;
}
