import type { Rect } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { Cancelled } from '@basitax/core/operation';
import type { TaskInput, TaskResult } from '@basitax/core/work/tasks';
import { useEffect, useState } from 'react';
import { messageOf } from '../../ui/attempt.tsx';
import { adviceRunner, type PlanTask } from '../../work/runner.ts';
import { remember, showGraph, useEditing, useEditor, viewControl } from '../store.ts';

/** How long a document has to stand still before it is asked again, in milliseconds. */
const pause = 120;

export interface Asked<T> {
  readonly answer: T | undefined;
  readonly problem: string | undefined;
  /** The answer is that on another state of the document, or there is none yet. */
  readonly isStale: boolean;
}

/**
 * Asks a worker about the document as it stands now, and again when it changes. With `input` undefined nothing is
 * asked.
 */
export function useTask<T extends PlanTask>(
  task: T,
  input: TaskInput<T> | undefined,
  runner = adviceRunner,
): Asked<TaskResult<T>> {
  const { doc, catalogue } = useEditing();
  const [said, setSaid] = useState<{ key: string; doc: unknown; answer?: TaskResult<T>; problem?: string }>();
  const key = input === undefined ? '' : JSON.stringify(input);
  useEffect(() => {
    if (key === '') return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      runner.run(task, JSON.parse(key), { doc, catalogue, signal: abort.signal }).then(
        (answer) => setSaid({ key, doc, answer }),
        (error: unknown) => error instanceof Cancelled || setSaid({ key, doc, problem: messageOf(error) }),
      );
    }, pause);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [task, key, doc, catalogue, runner]);
  // what was asked of something else is no answer to this
  const fits = said !== undefined && said.key === key;
  return {
    answer: fits ? said.answer : undefined,
    problem: fits ? said.problem : undefined,
    isStale: !fits || said.doc !== doc,
  };
}

/** Goes to a part of a graph, in pixels at 100 % zoom, as large as it fits, with what is concerned there selected. */
export function goToPlace(graph: Id, { x, y, width, height }: Rect, ids: readonly Id[]): void {
  remember();
  if (!showGraph(graph, ids)) return;
  const { window } = useEditor.getState();
  const zoom = Math.min(1, window.width / width, window.height / height);
  viewControl.set({
    zoom,
    x: window.width / 2 - (x + width / 2) * zoom,
    y: window.height / 2 - (y + height / 2) * zoom,
  });
}
