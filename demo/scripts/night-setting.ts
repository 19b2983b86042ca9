// Gives every node with an exposure a further setting in which it is darker; the present one is kept.
const { name, stops } = options({
  name: { type: 'text', default: 'night', title: 'Setting' },
  stops: { type: 'number', default: 1, title: 'Darker by', unit: 'stops', min: 0, max: 10 },
});

for (const node of nodes.having('exposure')) {
  if (node.locked) {
    skip(node, 'it is locked');
    continue;
  }
  node.addSetting(name);
  node.set('exposure', node.get('exposure') - stops);
}
