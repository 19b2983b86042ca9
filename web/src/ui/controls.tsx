import { Dialog as RadixDialog, Tooltip as RadixTooltip } from 'radix-ui';
import {
  type ButtonHTMLAttributes,
  type ComponentProps,
  createContext,
  type InputHTMLAttributes,
  type ReactNode,
  type Ref,
  type SelectHTMLAttributes,
  useRef,
} from 'react';

const looks = {
  plain: 'border border-line bg-panel hover:bg-accent-wash',
  primary: 'border border-accent bg-accent text-on-accent hover:opacity-90',
  quiet: 'border border-transparent hover:bg-accent-wash',
} as const;

/** A button. One that cannot act now is dim, keeps the focus, and says why. */
export function Button({
  look = 'plain',
  dim,
  className = '',
  square,
  title,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & {
  ref?: Ref<HTMLButtonElement>;
  look?: keyof typeof looks;
  dim?: string | undefined;
  square?: boolean;
}): ReactNode {
  const button = (
    <button
      type="button"
      {...rest}
      aria-disabled={dim !== undefined || undefined}
      onClick={dim === undefined ? rest.onClick : undefined}
      className={`inline-flex h-8 items-center justify-center gap-1.5 rounded-sm text-sm ${square ? 'w-8' : 'px-2.5'} whitespace-nowrap aria-disabled:cursor-default aria-disabled:opacity-45 disabled:opacity-45 ${looks[look]} ${className}`}
    />
  );
  const hint = dim ?? title;
  return hint === undefined ? (
    button
  ) : (
    <Hint text={dim === undefined ? hint : title ? `${title}: ${dim}` : dim}>{button}</Hint>
  );
}

function Hint({ text, children }: { text: string; children: ReactNode }): ReactNode {
  return (
    <RadixTooltip.Root>
      <RadixTooltip.Trigger asChild>{children}</RadixTooltip.Trigger>
      <RadixTooltip.Portal>
        <RadixTooltip.Content
          sideOffset={5}
          collisionPadding={8}
          className="z-50 max-w-72 rounded-sm border border-edge bg-panel px-2 py-1 text-xs text-ink shadow"
        >
          {text}
        </RadixTooltip.Content>
      </RadixTooltip.Portal>
    </RadixTooltip.Root>
  );
}

const dialogSizes = { usual: 'max-w-md', wide: 'max-w-3xl', huge: 'max-w-[50rem]' } as const;

export function Dialog({
  open,
  onClose,
  title,
  about,
  children,
  size = 'usual',
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  about?: string;
  children: ReactNode;
  size?: keyof typeof dialogSizes;
}): ReactNode {
  return (
    <RadixDialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className="fixed inset-0 z-40 bg-black/35" />
        <RadixDialog.Content
          className={`fixed top-[12vh] left-1/2 z-40 flex max-h-[76vh] w-[92vw] -translate-x-1/2 flex-col gap-3 rounded border border-edge bg-panel p-4 shadow-lg ${dialogSizes[size]}`}
        >
          <RadixDialog.Title className="text-base font-bold">{title}</RadixDialog.Title>
          <RadixDialog.Description className={about ? 'text-sm text-soft' : 'sr-only'}>
            {about ?? title}
          </RadixDialog.Description>
          {children}
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}

/** A list above the page that is filtered by typing; its content brings field and rows. */
export function ListDialog({
  title,
  onClose,
  size,
  children,
}: {
  title: string;
  onClose: () => void;
  size: string;
  children: ReactNode;
}): ReactNode {
  return (
    <RadixDialog.Root open onOpenChange={(next) => !next && onClose()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className="fixed inset-0 z-40 bg-black/25" />
        <RadixDialog.Content
          aria-describedby={undefined}
          className={`fixed top-[9vh] left-1/2 z-40 w-[94vw] -translate-x-1/2 overflow-hidden rounded border border-edge bg-panel shadow-lg ${size}`}
        >
          <RadixDialog.Title className="sr-only">{title}</RadixDialog.Title>
          {children}
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}

/** The look of a group in a list that is searched, with its heading. */
export const groupLook =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-0.5 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:font-bold [&_[cmdk-group-heading]]:text-soft';

/** The words of the field that stands around, for controls that no label can be for. */
export const FieldName = createContext<string | undefined>(undefined);

export function Field({
  label,
  hint,
  problem,
  children,
  inline,
}: {
  label: string;
  hint?: string | undefined;
  problem?: string | undefined;
  children: ReactNode;
  inline?: boolean;
}): ReactNode {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
    <label className={inline ? 'flex items-center gap-2 text-sm' : 'flex flex-col gap-1 text-sm'}>
      <span className="text-soft">
        {label}
        {hint && <span className="ml-1 text-xs">({hint})</span>}
      </span>
      <FieldName value={label}>{children}</FieldName>
      {problem && (
        <span role="alert" className="text-xs text-warn">
          {problem}
        </span>
      )}
    </label>
  );
}

/** A choice of a few, side by side. */
export function Segments<T extends string>({
  label,
  value,
  choices,
  onChoose,
}: {
  label: string;
  value: T;
  choices: readonly (readonly [T, string])[];
  onChoose: (value: T) => void;
}): ReactNode {
  return (
    <span
      role="radiogroup"
      aria-label={label}
      className="flex shrink-0 self-start overflow-hidden rounded-sm border border-line"
    >
      {choices.map(([one, title]) => (
        // biome-ignore lint/a11y/useSemanticElements: buttons side by side say more than dots
        <button
          key={one}
          type="button"
          role="radio"
          aria-checked={value === one}
          className="h-7 px-2 aria-checked:bg-accent-wash aria-checked:font-bold"
          onClick={() => value !== one && onChoose(one)}
        >
          {title}
        </button>
      ))}
    </span>
  );
}

/** A box to check, with its label. */
export function Check({
  label,
  checked,
  disabled,
  onChange,
}: {
  label: ReactNode;
  checked: boolean;
  disabled?: boolean;
  onChange: (on: boolean) => void;
}): ReactNode {
  return (
    <label className="flex items-center gap-2 text-sm">
      <input
        type="checkbox"
        className="size-4 shrink-0 accent-accent"
        checked={checked}
        disabled={disabled}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  );
}

export function TextInput(props: InputHTMLAttributes<HTMLInputElement> & { ref?: Ref<HTMLInputElement> }): ReactNode {
  return <input {...props} className={`${selectLook} ${props.className ?? ''}`} />;
}

/** A field by which a list is narrowed; its label stands in it while it is empty. */
export function SearchInput({
  label,
  placeholder = label,
  value,
  className,
  onText,
}: {
  label: string;
  placeholder?: string;
  value: string;
  className?: string;
  onText: (text: string) => void;
}): ReactNode {
  return (
    <TextInput
      type="search"
      aria-label={label}
      placeholder={placeholder}
      className={className}
      value={value}
      onChange={(event) => onText(event.target.value)}
    />
  );
}

export const selectLook = 'h-8 min-w-0 rounded-sm border border-edge bg-ticket px-2 text-sm text-ink';

export function Select(props: SelectHTMLAttributes<HTMLSelectElement>): ReactNode {
  return <select {...props} className={`${selectLook} ${props.className ?? ''}`} />;
}

/** A button that asks for a file of the person's own, or with `onFiles` for many; the same one may be chosen again. */
export function FileButton({
  accept,
  label,
  onFile,
  onFiles,
  folder,
  ...button
}: ComponentProps<typeof Button> & {
  accept: string;
  label: string;
  /** A folder with all in it is chosen, in place of files. */
  folder?: boolean;
  onFile?: (file: File) => void;
  onFiles?: (files: readonly File[]) => void;
}): ReactNode {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={picker}
        type="file"
        accept={accept}
        multiple={onFiles !== undefined}
        {...(folder && { webkitdirectory: '' })}
        className="sr-only"
        aria-label={label}
        tabIndex={-1}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          if (files[0]) onFile?.(files[0]);
          if (files.length > 0) onFiles?.(files);
          event.target.value = '';
        }}
      />
      <Button {...button} onClick={() => picker.current?.click()} />
    </>
  );
}

/** Said in place of content: while loading, when empty, when something failed. */
export function Notice({
  title,
  children,
  alert,
}: {
  title: string;
  children?: ReactNode;
  alert?: boolean;
}): ReactNode {
  return (
    <div role={alert ? 'alert' : 'status'} className="m-auto flex max-w-md flex-col items-center gap-3 p-8 text-center">
      <p className="text-base font-bold">{title}</p>
      {children && <div className="flex flex-col items-center gap-3 text-sm text-soft">{children}</div>}
    </div>
  );
}
