// Puts each node beside the one selected before it, in a row that starts at the first.
const { where, gap } = options({
  where: { type: 'choice', default: 'right', choices: ['right', 'left', 'above', 'below'], title: 'Where' },
  gap: { type: 'number', default: 60, title: 'Gap', unit: 'px', min: 0, max: 2000 },
});

nodes.forEach((node, i) => {
  const before = nodes[i - 1];
  if (before) node.placeBeside(before, where as 'right', gap);
});
