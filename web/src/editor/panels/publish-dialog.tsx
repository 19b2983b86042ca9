import { sharedNameSchema } from '@basitax/api/catalogues';
import { caption } from '@basitax/core/document/doc';
import { writeDoc } from '@basitax/core/document/file';
import { must } from '@basitax/core/must';
import { publishable, publishGuess, publishProblems } from '@basitax/core/structure/shared-kinds';
import { type ReactNode, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { Button, Dialog, Field, TextInput } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { renewKinds } from '../catalogue.ts';
import { useEditing } from '../store.ts';

/**
 * Publishes a nested graph as a shared kind, or as the next version of one, and uses it in its place where that is
 * wanted.
 */
export function PublishDialog({ id, onClose }: { id: string; onClose: () => void }): ReactNode {
  const { doc, kinds, fileId, catalogue } = useEditing();
  const host = doc.nodes.get(id);
  const problems = useMemo(() => (host ? publishProblems(doc, kinds, host) : []), [doc, kinds, host]);
  const guess = useMemo(() => (host ? publishGuess(doc, kinds, host) : undefined), [doc, kinds, host]);
  const [title, setTitle] = useState(guess?.title ?? '');
  const [name, setName] = useState(guess?.name ?? 'part');
  const [category, setCategory] = useState(guess?.category ?? '');
  const [message, setMessage] = useState('');
  const [use, setUse] = useState(true);
  const [isBusy, setBusy] = useState(false);
  if (!host) return null;
  const known = kinds.newestShared(name);
  const wrong = sharedNameSchema.safeParse(name);
  const dim =
    problems.length > 0
      ? 'Mend what is listed above first.'
      : !wrong.success
        ? `The name ${wrong.error.issues[0]?.message}.`
        : title.trim() === ''
          ? 'Give it a title.'
          : message.trim() === ''
            ? 'Say in a word or two what is new.'
            : isBusy
              ? 'It is being published.'
              : undefined;
  const publish = async (): Promise<void> => {
    setBusy(true);
    try {
      const { body } = publishable(doc, kinds, host);
      const made = await api.publish(name, {
        title,
        category,
        body: writeDoc(body),
        order: host.ports.map((port) => port.name),
        file: fileId,
        message,
      });
      await renewKinds();
      onClose();
      toast.success(`“${made.kind.title}” is published, version ${made.version}`, {
        description: 'It can be added in every file now.',
        duration: 4000,
      });
      if (use) await perform('use-shared', { name }, [id]);
    } catch (error) {
      toast.error('It was not published', { description: (error as Error).message, duration: 8000 });
      setBusy(false);
    }
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Publish “${caption(host)}”`}
      about="As a kind that every file of the team can use. A version never changes; each file updates when somebody chooses to."
    >
      {problems.length > 0 && (
        <ul className="max-h-40 list-disc overflow-auto pl-5 text-sm text-warn" aria-label="What stands against it">
          {problems.map((item) => (
            <li key={item.message}>{item.message}</li>
          ))}
        </ul>
      )}
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (dim === undefined) void publish();
        }}
      >
        <Field label="Title">
          <TextInput value={title} onChange={(event) => setTitle(event.target.value)} />
        </Field>
        <Field
          label="Name"
          hint={known ? `becomes version ${must(known.shared).version + 1}` : 'new'}
          problem={wrong.success ? undefined : wrong.error.issues[0]?.message}
        >
          <TextInput className="font-mono" value={name} onChange={(event) => setName(event.target.value)} />
        </Field>
        <Field label="Category">
          <select
            className="h-8 rounded-sm border border-edge bg-ticket px-2"
            value={category}
            onChange={(event) => setCategory(event.target.value)}
          >
            {catalogue.categories.map((one) => (
              <option key={one.id} value={one.id}>
                {one.title}
              </option>
            ))}
          </select>
        </Field>
        <Field label="What is new in it">
          <TextInput value={message} onChange={(event) => setMessage(event.target.value)} />
        </Field>
        <p className="text-xs text-soft">
          Ports:{' '}
          {host.ports
            .map((port) => `${port.direction === 'in' ? '→' : ''}${port.name}${port.direction === 'out' ? '→' : ''}`)
            .join(', ') || 'none'}
          . Rename and order them in the inspector.
        </p>
        <Field label="Use it here in place of the nested graph" inline>
          <input
            type="checkbox"
            className="order-first size-4 accent-accent"
            checked={use}
            onChange={(event) => setUse(event.target.checked)}
          />
        </Field>
        {dim !== undefined && (
          <p role="status" className="text-sm text-soft">
            To publish it: {dim}
          </p>
        )}
        <Button type="submit" look="primary" dim={dim}>
          {isBusy ? 'Publishing …' : known ? `Publish version ${must(known.shared).version + 1}` : 'Publish'}
        </Button>
      </form>
    </Dialog>
  );
}
