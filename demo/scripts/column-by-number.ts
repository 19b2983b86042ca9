// Puts nodes into a column, in the order of a number that they have.
const { parameter, gap } = options({
  parameter: { type: 'text', default: 'projector', title: 'Number' },
  gap: { type: 'number', default: 30, title: 'Gap', unit: 'px', min: 0, max: 2000 },
});

const column = nodes.filter((node) => typeof node.get(parameter) === 'number');
if (column.length < 2) fail(`Fewer than two of these nodes have a number “${parameter}”.`);
column.sort((a, b) => Number(a.get(parameter)) - Number(b.get(parameter)));
const x = Math.min(...column.map((node) => node.x));
let y = Math.min(...column.map((node) => node.y));
for (const node of column) {
  node.moveTo(x, y);
  y += node.height + gap;
}
