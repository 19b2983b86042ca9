import type { ScriptFrame, ScriptGraph, ScriptNode, ScriptNodeSet, ScriptNodes, ScriptWire } from '../api.ts';

type Maker<T> = (id: string) => T;
const notYet = (): never => {
  throw new Error('the model is not whole yet');
};

/**
 * Where nodes find the objects of what is around them: these know nodes in turn, so that they are put here by their
 * own file, before any script runs.
 */
export const objects: {
  wireOf: Maker<ScriptWire>;
  frameOf: Maker<ScriptFrame>;
  graphOf: Maker<ScriptGraph>;
  setOf: Maker<ScriptNodeSet>;
  nodeOf: Maker<ScriptNode>;
  listOf: (ids: readonly string[]) => ScriptNodes;
} = {
  wireOf: notYet,
  frameOf: notYet,
  graphOf: notYet,
  setOf: notYet,
  nodeOf: notYet,
  listOf: notYet,
};
