import { ApiProblem } from '@basitax/api/client';
import { type Live, liveSchema, type Present, type Standing } from '@basitax/api/live';
import { isDirty } from '@basitax/core/session/session';
import { create } from 'zustand';
import { teamApi } from '../../api/team.ts';
import { visibleArea } from '../canvas/paint/picture.ts';
import { type EditorState, useEditor } from '../store.ts';

/** This tab, to the others: known by nothing else, and another one after a reload. */
export const tab = Array.from(crypto.getRandomValues(new Uint8Array(8)), (byte) =>
  byte.toString(16).padStart(2, '0'),
).join('');

interface LiveState {
  /** Everybody else who has the file open. */
  readonly others: readonly Present[];
  /** The newest revision; undefined until the server has said. */
  readonly head: Live['head'] | undefined;
  readonly isTrashed: boolean;
  /** False from the moment the server stops answering. */
  readonly isConnected: boolean;
}

const nobody: LiveState = { others: [], head: undefined, isTrashed: false, isConnected: true };
export const useLive = create<LiveState>(() => nobody);

/** How often it is said at most that one has moved, and at least that one is still there, in milliseconds. */
const pace = 700;
const beat = 5000;
/** No more of what is selected is told. */
const mostSelected = 200;

function standingOf(state: EditorState): Standing {
  const { x, y, width, height } = visibleArea(state.view, state.window.width, state.window.height);
  const round = Math.round;
  return {
    graph: state.graph,
    x: round(x),
    y: round(y),
    width: round(width),
    height: round(height),
    selection: state.selection.slice(0, mostSelected),
    editing: isDirty(state),
  };
}

/** Tells the others where this tab stands in a file, and listens to where they do. Returns a way to leave. */
export function followLive(file: string): () => void {
  useLive.setState(nobody);
  const events = new EventSource(teamApi.liveAddress(file));
  events.onmessage = ({ data }: MessageEvent<string>) => {
    const live = liveSchema.parse(JSON.parse(data));
    const others = live.people.filter((one) => one.tab !== tab);
    useLive.setState({ others, head: live.head, isTrashed: live.trashed, isConnected: true });
  };
  // the browser asks again by itself
  events.onopen = () => useLive.setState({ isConnected: true });
  events.onerror = () => useLive.setState({ isConnected: false });
  let said = '';
  let saidAt = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const say = (): void => {
    clearTimeout(timer);
    timer = undefined;
    const state = useEditor.getState();
    const standing = standingOf(state);
    const text = JSON.stringify(standing);
    if (state.fileId !== file || (text === said && Date.now() - saidAt < beat)) return;
    [said, saidAt] = [text, Date.now()];
    teamApi.stand(file, tab, standing).then(
      () => useLive.setState({ isConnected: true }),
      (error: unknown) => {
        // said again with the next beat; a line of events may seem open long after the network has gone
        said = '';
        if (error instanceof ApiProblem && error.status === 0) useLive.setState({ isConnected: false });
      },
    );
  };
  say();
  const beats = setInterval(say, beat);
  const stop = useEditor.subscribe((state, before) => {
    if (
      state.view === before.view &&
      state.selection === before.selection &&
      state.graph === before.graph &&
      state.past === before.past &&
      state.saved === before.saved
    )
      return;
    timer ??= setTimeout(say, pace);
  });
  const leave = (): void => {
    teamApi.leave(file, tab).catch(() => {
      // whoever does not say it is taken for gone a little later
    });
  };
  window.addEventListener('pagehide', leave);
  return () => {
    window.removeEventListener('pagehide', leave);
    clearTimeout(timer);
    clearInterval(beats);
    stop();
    events.close();
    leave();
    useLive.setState(nobody);
  };
}
