import { readTable } from '@basitax/core/formats/table';
import { plural } from '@basitax/core/words';
import { showEdit } from './actions.ts';
import { closeToCanvas, openDialog } from './dialogs.ts';
import { useEditor } from './store.ts';

/** Reads a table and shows what it would change; what cannot be taken is told by line. */
export function tableIn(): void {
  const picker = document.createElement('input');
  picker.type = 'file';
  picker.accept = '.csv,text/csv';
  picker.addEventListener('change', () => {
    const file = picker.files?.[0];
    if (file) void file.text().then((text) => takeTable(file.name, text));
  });
  picker.click();
}

function takeTable(name: string, text: string): void {
  const { doc, kinds } = useEditor.getState();
  const { edit, findings, rows, changes } = readTable(doc, kinds, text);
  const summary = `${name}: ${plural(rows, 'row')}, ${plural(changes, 'change')}.`;
  closeToCanvas();
  if (edit.steps.length > 0) showEdit('Table in', { edit, report: { summary, findings } });
  else
    openDialog({
      report: { summary, findings },
      act: undefined,
      title: findings.length === 0 ? `${summary} Nothing differs from what is there.` : summary,
    });
}
