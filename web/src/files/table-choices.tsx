import { type TableField, tableFields } from '@basitax/core/table/cells';
import type { ReactNode } from 'react';
import { Check, Segments } from '../ui/controls.tsx';

export { xlsxType } from '@basitax/api/tables';

export type TableFormat = 'xlsx' | 'csv';

const fieldWords: Readonly<Record<TableField, string>> = {
  name: 'Name',
  label: 'Label',
  color: 'Colour',
  frame: 'Frame',
};

/** What of each node a table holds beside parameters, and how it is written. */
export function TableChoices({
  fields,
  onFields,
  format,
  onFormat,
}: {
  fields: readonly TableField[];
  onFields: (fields: readonly TableField[]) => void;
  format: TableFormat;
  onFormat: (format: TableFormat) => void;
}): ReactNode {
  return (
    <div className="flex flex-wrap items-center gap-4 text-sm">
      {tableFields.map((field) => (
        <Check
          key={field}
          label={fieldWords[field]}
          checked={fields.includes(field)}
          onChange={(on) => onFields(tableFields.filter((one) => (one === field ? on : fields.includes(one))))}
        />
      ))}
      <Segments<TableFormat>
        label="Format"
        value={format}
        choices={[
          ['xlsx', 'XLSX'],
          ['csv', 'CSV'],
        ]}
        onChoose={onFormat}
      />
    </div>
  );
}
