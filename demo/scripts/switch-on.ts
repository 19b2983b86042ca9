// Switches a yes-or-no parameter on for all nodes that have it, or off.
const { parameter, on } = options({
  parameter: { type: 'text', default: 'overwrite', title: 'Parameter' },
  on: { type: 'yes or no', default: true, title: 'On' },
});

const count = nodes.set(parameter, on);
log(`${parameter} is ${on ? 'on' : 'off'} for ${count} of ${nodes.length} nodes`);
