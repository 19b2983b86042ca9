// Makes every node of one kind one of another, and says what could not be kept.
const { from, to } = options({
  from: { type: 'kind', default: 'pic.add', title: 'Kind' },
  to: { type: 'kind', default: 'pic.over', title: 'Becomes' },
});

const found = nodes.filter((node) => node.kind === from);
if (found.length === 0) fail(`No node here is of the kind ${from}.`);
for (const node of found) {
  const report = node.become(to);
  for (const sentence of report.findings) warn(sentence);
}
log(`${found.length} nodes are ${to} now`);
