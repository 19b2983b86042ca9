import { createContext } from '@basitax/core/operation';
import { type Row, rowsOfCsv } from '@basitax/core/table/cells';
import { readTable } from '@basitax/core/table/in';
import { plural } from '@basitax/core/words';
import { tellFailure } from '../ui/attempt.tsx';
import { showEdit } from './actions.ts';
import { closeToCanvas, openDialog } from './dialogs.ts';
import { useEditor } from './store.ts';

/** Reads a table and shows what it would change; what cannot be taken is told by line. */
export function tableIn(): void {
  const picker = document.createElement('input');
  picker.type = 'file';
  picker.accept = '.csv,text/csv,.xlsx';
  picker.addEventListener('change', () => {
    const file = picker.files?.[0];
    if (!file) return;
    rowsOf(file)
      .then((rows) => takeTable(file.name, rows))
      .catch((error: unknown) => tellFailure('The table could not be read')(error));
  });
  picker.click();
}

/** The rows of a table; what reads XLSX is loaded when it is wanted. */
async function rowsOf(file: File): Promise<Row[]> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const { isXlsx, rowsOfXlsx } = await import('@basitax/core/table/xlsx');
  return isXlsx(bytes) ? rowsOfXlsx(bytes) : rowsOfCsv(new TextDecoder().decode(bytes));
}

function takeTable(name: string, table: readonly Row[]): void {
  const { doc, kinds } = useEditor.getState();
  const seed = crypto.getRandomValues(new Int32Array(1))[0] ?? 1;
  const { edit, findings, rows, changes } = readTable(doc, kinds, table, createContext(kinds, seed).newId);
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
