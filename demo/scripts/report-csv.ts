// A table of the nodes with what feeds them, as CSV; changes nothing.
const rows = nodes.map((node) => ({
  path: node.path,
  kind: node.kindTitle,
  label: node.label,
  frame: node.frame?.title ?? '',
  bypassed: node.bypassed ? 'yes' : 'no',
  'open inputs': node.inputs.filter((port) => port.wires.length === 0).length,
  sources: node.sources.map((source) => source.name).join(' '),
  x: Math.round(node.x),
  y: Math.round(node.y),
}));

output('nodes.csv', csv(rows));
log(`${rows.length} rows`);
