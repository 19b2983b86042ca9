// Sets a number on everything that feeds the selection, over links, feeds and nested graphs.
const { parameter, value } = options({
  parameter: { type: 'text', default: 'exposure', title: 'Parameter' },
  value: { type: 'number', default: 0, title: 'Value' },
});

const above = nodes.upstream().having(parameter);
const count = above.set(parameter, value);
log(`${parameter} is ${value} for ${count} of ${nodes.upstream().length} nodes upstream`, above);
