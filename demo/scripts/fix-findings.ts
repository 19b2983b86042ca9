// Does the fixes that house rules propose, one after the other, and says what is left for a person.
const { rules } = options({
  rules: { type: 'text', default: 'overlap', title: 'Rules', hint: 'their ids, with blanks between' },
});

const wanted = rules.split(/\s+/).filter(Boolean);
const done = new Set<string>();
for (;;) {
  // a fix may mend more than its own finding, so that the rules are asked again
  const next = file.findings(...wanted).find((one) => one.canFix && !done.has(one.message));
  if (!next) break;
  done.add(next.message);
  next.fix();
  log(next.message);
}
for (const rest of file.findings(...wanted)) warn(rest.message);
