import type { FileInfo } from '@basitax/api/files';
import type { TableField } from '@basitax/core/table/cells';
import { usualFields } from '@basitax/core/table/out';
import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { api } from '../api/client.ts';
import { lacksRole, usePerson } from '../api/person.ts';
import { download } from '../editor/download.ts';
import { Problem, useAttempt } from '../ui/attempt.tsx';
import { Button, Check, Dialog, Field, FileButton, TextInput } from '../ui/controls.tsx';
import { TableChoices, type TableFormat, xlsxType } from './table-choices.tsx';

/** Parameters of the team's catalogue, those of most kinds first. */
function useParameters(): readonly (readonly [string, number])[] {
  const catalogue = useQuery({
    queryKey: ['team-catalogue'],
    queryFn: async () => {
      const { team } = await api.catalogues();
      return api.catalogue(team.id, team.version);
    },
  });
  return useMemo(() => {
    const found = new Map<string, number>();
    for (const kind of catalogue.data?.kinds ?? [])
      for (const { id } of kind.parameters) found.set(id, (found.get(id) ?? 0) + 1);
    return [...found].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  }, [catalogue.data]);
}

/** The most files that are named one by one in an address. */
const mostNamed = 300;

/** What nodes of many files are called and set to, as one table; and such a table back, as a batch run to be accepted. */
export function TablesDialog({ files, onClose }: { files: readonly FileInfo[]; onClose: () => void }): ReactNode {
  const [where, setWhere] = useState('');
  const [find, setFind] = useState('');
  const [fields, setFields] = useState<readonly TableField[]>(usualFields);
  const [picked, setPicked] = useState<readonly string[]>([]);
  const [format, setFormat] = useState<TableFormat>('xlsx');
  const { problem, isBusy, attempt } = useAttempt();
  const navigate = useNavigate();
  const may = lacksRole(usePerson().data, 'editor');
  const parameters = useParameters().filter(([name]) => name.includes(find.trim().toLowerCase()));
  const out = (): Promise<void> =>
    attempt(async () => {
      const bytes = await api.tableOut({
        where,
        format,
        fields: fields.join(','),
        parameters: picked.join(','),
        ids: files.map((file) => file.id).join(','),
      });
      download(`nodes.${format}`, bytes, format === 'csv' ? 'text/csv' : xlsxType);
      onClose();
    });
  const into = (file: File): Promise<void> =>
    attempt(async () => {
      const { run, problems } = await api.tableIn(file.name, file);
      if (problems.length > 0)
        toast.warning(`${plural(problems.length, 'row')} of the table could not be placed`, {
          description: problems.slice(0, 5).join(' '),
          duration: 20_000,
        });
      navigate(`/batches/${run.id}?view=changes`);
    });
  const dim = isBusy
    ? 'It is being made.'
    : files.length > mostNamed
      ? `Choose ${mostNamed} files at the most.`
      : undefined;
  return (
    <Dialog
      open
      onClose={onClose}
      size="wide"
      title={`Table of ${plural(files.length, 'file')}`}
      about="A row for each node, with its file. Edited in a spreadsheet, the table comes back as a batch run that shows what it would change before anything is stored."
    >
      <Field label="Nodes like" hint="a query; empty: all">
        <TextInput
          className="w-80 font-mono text-xs"
          value={where}
          onChange={(event) => setWhere(event.target.value)}
        />
      </Field>
      <TableChoices fields={fields} onFields={setFields} format={format} onFormat={setFormat} />
      <fieldset className="flex min-h-0 flex-col gap-1">
        <legend className="mb-1 flex items-center gap-2 text-sm text-soft">
          Parameters
          {picked.length > 0 && <span className="text-ink">{picked.join(', ')}</span>}
        </legend>
        <TextInput
          aria-label="Find a parameter"
          placeholder="Find a parameter"
          className="w-56"
          value={find}
          onChange={(event) => setFind(event.target.value)}
        />
        <div className="grid max-h-48 grid-cols-3 gap-x-4 gap-y-1 overflow-auto">
          {parameters.map(([name, count]) => (
            <Check
              key={name}
              label={
                <span>
                  {name} <span className="text-xs text-soft">{plural(count, 'kind')}</span>
                </span>
              }
              checked={picked.includes(name)}
              onChange={(on) => setPicked(on ? [...picked, name] : picked.filter((one) => one !== name))}
            />
          ))}
        </div>
      </fieldset>
      <Problem text={problem} />
      <div className="flex justify-end gap-2">
        <FileButton
          className="mr-auto"
          accept=".csv,.xlsx"
          label="Choose a table"
          dim={may ?? (isBusy ? 'It is being read.' : undefined)}
          onFile={(file) => void into(file)}
        >
          Read a table back …
        </FileButton>
        <Button look="primary" dim={dim} onClick={() => void out()}>
          Download the table
        </Button>
      </div>
    </Dialog>
  );
}
