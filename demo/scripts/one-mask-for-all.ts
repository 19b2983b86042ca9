// Wires the mask of the node that was selected first into the open mask inputs of all the others.
const [first, ...others] = nodes;
if (!first || others.length === 0) fail('Select the node that gives the mask first, then those that take it.');
const mask = first.outputs.find((port) => port.type === 'mask');
if (!mask) fail(`“${first.name}” gives no mask.`);

let count = 0;
for (const node of others) {
  const open = node.inputs.find((port) => port.type === 'mask' && port.wires.length === 0);
  if (!open) {
    skip(node, 'it has no open input for a mask');
    continue;
  }
  mask.connect(open);
  count++;
}
log(`“${first.name}” masks ${count} nodes`);
