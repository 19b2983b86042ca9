// Writes a label from the values of parameters: {radius} stands for the value, {name} for the node's name.
const { pattern } = options({
  pattern: { type: 'text', default: 'blur {radius} px', title: 'Label', hint: 'parameters in braces' },
});

const words = [...pattern.matchAll(/\{(\w+)\}/g)].map((match) => match[1] as string);

for (const node of nodes) {
  const missing = words.find((word) => word !== 'name' && node.get(word) === undefined);
  if (missing) {
    skip(node, `it has no value ${missing}`);
    continue;
  }
  node.label = pattern.replace(/\{(\w+)\}/g, (_all, word: string) =>
    word === 'name' ? node.name : String(node.get(word)),
  );
}
