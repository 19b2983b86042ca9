// Leads everything that takes from one node to another one, by name.
const { from, to } = options({
  from: { type: 'text', default: '', title: 'From the node', hint: 'its name' },
  to: { type: 'text', default: '', title: 'To the node', hint: 'its name' },
});

const [source, target] = [graph.node(from), graph.node(to)];
if (!source) fail(`There is no node “${from}” in this graph.`);
if (!target) fail(`There is no node “${to}” in this graph.`);

const users = source.wiredTo.length;
const report = run('re-source', [source, target]);
log(report.summary, `${users} nodes took from “${from}”`);
