import type { checkTasks } from '@basitax/core/work/check-tasks';
import type { drawTasks } from '@basitax/core/work/draw-tasks';
import type { inspectTasks } from '@basitax/core/work/inspect-tasks';
import type { planTasks } from '@basitax/core/work/plan-tasks';
import type { Channel } from '@basitax/core/work/protocol';
import { Runner } from '@basitax/core/work/runner';
import type { scriptTasks } from '@basitax/core/work/script-tasks';

function channel(worker: Worker): Channel {
  return {
    post: (message) => worker.postMessage(message),
    listen: (receive) => worker.addEventListener('message', (event) => receive(event.data)),
    failed: (report) => worker.addEventListener('error', (event) => report(event.message || 'it could not be loaded')),
    terminate: () => worker.terminate(),
  };
}

// a worker for each family of tasks, so that none loads what it has no use for; the addresses have to stand here as
// they are, to be built
const openDraw = (): Channel => channel(new Worker(new URL('./draw.worker.ts', import.meta.url), { type: 'module' }));
const openPlan = (): Channel => channel(new Worker(new URL('./plan.worker.ts', import.meta.url), { type: 'module' }));
const openScript = (): Channel =>
  channel(new Worker(new URL('./script.worker.ts', import.meta.url), { type: 'module' }));

const openCheck = (): Channel => channel(new Worker(new URL('./check.worker.ts', import.meta.url), { type: 'module' }));

type DrawTask = keyof typeof drawTasks;
export type PlanTask = keyof typeof planTasks | keyof typeof inspectTasks;
type ScriptTask = keyof typeof scriptTasks;
type CheckTask = keyof typeof checkTasks;

/** What people wait for, and may cancel. */
export const workRunner = new Runner<PlanTask>(openPlan);
/** Routes, which must not wait for anything else. */
export const drawRunner = new Runner<DrawTask>(openDraw);
/** Advice, which is made anew while one works and must hold up neither. */
export const adviceRunner = new Runner<PlanTask>(openPlan);
/** What is measured of each piece of advice, one after the other, while one reads it. */
export const measureRunner = new Runner<PlanTask>(openPlan);
/** Scripts and recipes; and beside them what a script declares, while one writes it. */
export const scriptRunner = new Runner<ScriptTask>(openScript);
export const scriptHelpRunner = new Runner<ScriptTask>(openScript);
/** The type checker for scripts, which holds the compiler: it is loaded when a script is first looked at. */
export const checkRunner = new Runner<CheckTask>(openCheck);
