// Scales the distances between nodes from their common centre; the nodes keep their size.
const { factor } = options({
  factor: { type: 'number', default: 1.5, title: 'Factor', min: 0.1, max: 10 },
});

const box = nodes.bounds;
if (!box) fail('There is no node to move.');
const centre = { x: box.x + box.width / 2, y: box.y + box.height / 2 };

for (const node of nodes) {
  const [halfWidth, halfHeight] = [node.width / 2, node.height / 2];
  const [dx, dy] = [node.x + halfWidth - centre.x, node.y + halfHeight - centre.y];
  node.moveTo(centre.x + dx * factor - halfWidth, centre.y + dy * factor - halfHeight);
}
