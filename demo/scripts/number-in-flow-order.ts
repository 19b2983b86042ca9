// Names nodes by kind and number, sources first.
const { digits, start } = options({
  digits: { type: 'integer', default: 2, title: 'Digits', min: 1, max: 6 },
  start: { type: 'integer', default: 1, title: 'First number', min: 0, max: 100000 },
});

const row = nodes.inFlowOrder();
// names are free before they are given: none of the row may stand in the way of another
row.forEach((node, i) => {
  node.name = `renaming_${node.id.replace(/\W/g, '_')}_${i}`;
});

const counts = new Map<string, number>();
for (const node of row) {
  const stem = node.kindTitle.replace(/[^A-Za-z0-9]+(.)?/g, (_all, letter: string | undefined) =>
    (letter ?? '').toUpperCase(),
  );
  let number = counts.get(stem) ?? start;
  while (graph.node(`${stem}_${String(number).padStart(digits, '0')}`)) number++;
  node.name = `${stem}_${String(number).padStart(digits, '0')}`;
  counts.set(stem, number + 1);
}
