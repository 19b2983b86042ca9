// Puts a frame around the nodes whose names begin alike, up to the first underscore or digit.
const { least } = options({
  least: { type: 'integer', default: 3, title: 'At least', unit: 'nodes', min: 1, max: 1000 },
});

const groups = new Map<string, ScriptNode[]>();
for (const node of nodes) {
  if (node.frame) continue;
  const prefix = /^[A-Za-z]+/.exec(node.name)?.[0] ?? node.name;
  groups.set(prefix, [...(groups.get(prefix) ?? []), node]);
}

for (const [prefix, members] of [...groups].sort()) {
  if (members.length < least) continue;
  graph.frame(members, prefix);
  log(`“${prefix}” frames ${members.length} nodes`);
}
