// Counts the kinds of nodes over all files, as one table.
function each(file: ScriptFile) {
  const counts: Record<string, number> = {};
  for (const node of file.nodes) counts[node.kindTitle] = (counts[node.kindTitle] ?? 0) + 1;
  return counts;
}

function all(results: readonly ScriptResult[]) {
  const kinds = new Map<string, { nodes: number; files: number }>();
  for (const { result } of results) {
    for (const [kind, count] of Object.entries(result as Record<string, number>)) {
      const known = kinds.get(kind) ?? { nodes: 0, files: 0 };
      kinds.set(kind, { nodes: known.nodes + count, files: known.files + 1 });
    }
  }
  return [...kinds]
    .map(([kind, { nodes, files }]) => ({ kind, nodes, files }))
    .sort((a, b) => b.nodes - a.nodes || (a.kind < b.kind ? -1 : 1));
}
