/// <reference types="vite/client" />
import {
  type Edge,
  Handle,
  type Node,
  type NodeProps,
  Position,
  ReactFlow,
  SelectionMode,
  useEdgesState,
  useNodesState,
} from '@xyflow/react';
import '@xyflow/react/dist/style.css';
import { memo, type ReactNode } from 'react';
import { createRoot } from 'react-dom/client';
import type { PlainScene } from '../scene.ts';

type Box = Node<{ title: string; kind: string; inputs: readonly string[]; outputs: readonly string[] }, 'box'>;

const firstHandle = 38;
const rowHeight = 18;

/** A node as plain as can be: name, kind, and a handle for every port. */
const BoxView = memo(function BoxView({ data }: NodeProps<Box>): ReactNode {
  return (
    <div className="box">
      <b>{data.title}</b>
      <small>{data.kind}</small>
      {data.inputs.map((id, i) => (
        <Handle key={id} id={id} type="target" position={Position.Left} style={{ top: firstHandle + i * rowHeight }} />
      ))}
      {data.outputs.map((id, i) => (
        <Handle key={id} id={id} type="source" position={Position.Right} style={{ top: firstHandle + i * rowHeight }} />
      ))}
    </div>
  );
});

const nodeTypes = { box: BoxView };

function Flow({ scene }: { scene: PlainScene }): ReactNode {
  const [nodes, , onNodesChange] = useNodesState<Box>(
    scene.nodes.map(({ id, x, y, width, height, ...data }) => ({
      id,
      type: 'box',
      position: { x, y },
      width,
      height,
      data,
    })),
  );
  const [edges, , onEdgesChange] = useEdgesState<Edge>(scene.edges.map((edge) => ({ ...edge, type: 'smoothstep' })));
  return (
    <ReactFlow
      nodes={nodes}
      edges={edges}
      nodeTypes={nodeTypes}
      onNodesChange={onNodesChange}
      onEdgesChange={onEdgesChange}
      panOnDrag={[1]}
      selectionOnDrag
      selectionMode={SelectionMode.Partial}
      minZoom={0.01}
      onInit={(flow) => Object.assign(window, { flow })}
    />
  );
}

const response = await fetch('./scene.json');
createRoot(document.getElementById('root')!).render(<Flow scene={(await response.json()) as PlainScene} />);
