// Replaces the root of every path, and lists what the asset store then does not have, with where files of that name are.
const { from, to } = options({
  from: { type: 'text', default: 'survey/', title: 'Root' },
  to: { type: 'text', default: 'archive/survey/', title: 'Becomes' },
});

if (from === '') fail('Say which root is to be replaced.');
const missing: { node: string; path: string; 'same name at': string }[] = [];
let count = 0;
for (const node of nodes) {
  for (const { parameter, path } of node.paths) {
    if (!path.startsWith(from)) continue;
    const changed = to + path.slice(from.length);
    if (node.set(parameter, changed)) count++;
    if (assets.exists(changed)) continue;
    const name = changed.slice(changed.lastIndexOf('/') + 1);
    missing.push({ node: node.path, path: changed, 'same name at': assets.find(name).join(' ') });
  }
}
log(`${count} paths changed`);
if (missing.length > 0) {
  warn(`${missing.length} of them lead to nothing; missing.csv lists them`);
  output('missing.csv', csv(missing));
}
