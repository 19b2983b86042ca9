// Puts a new node behind every node of a kind; what took from that one takes from the new one.
const { kind, added } = options({
  kind: { type: 'kind', default: 'pic.read', title: 'Behind every' },
  added: { type: 'kind', default: 'pic.grade', title: 'Comes a' },
});

const found = nodes.filter((node) => node.kind === kind);
for (const node of found) {
  const [output] = node.outputs;
  const consumers = output ? output.wires.map((wire) => wire.to) : [];
  if (consumers.length === 0) {
    skip(node, 'nothing takes from it');
    continue;
  }
  const made = graph.add(added, { x: node.x + node.width + 60, y: node.y });
  node.connect(made);
  const [given] = made.outputs;
  for (const input of consumers) given?.connect(input, { replace: true });
  log(made, 'stands behind', node);
}
