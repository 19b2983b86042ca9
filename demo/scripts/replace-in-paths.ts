// Finds and replaces in everything that is a path: what files are read from, and written to.
const { find, replace } = options({
  find: { type: 'text', default: 'out/', title: 'Find' },
  replace: { type: 'text', default: 'delivery/', title: 'Replace by' },
});

if (find === '') fail('Say what is to be found.');
let count = 0;
for (const node of nodes) {
  const path = node.get('file');
  if (typeof path !== 'string' || !path.includes(find)) continue;
  const changed = path.split(find).join(replace);
  if (node.set('file', changed)) {
    count++;
    log(`${node.path}: ${path} → ${changed}`);
  }
}
log(`${count} paths changed`);
