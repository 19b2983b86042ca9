import { type EventType, eventTypes } from '@basitax/api/events';
import type { Delivery, Webhook } from '@basitax/api/webhooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { formatDistanceToNow } from 'date-fns';
import { Copy } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { api } from '../api/client.ts';
import { Problem, tellFailure, useAttempt } from '../ui/attempt.tsx';
import { Button, Check, Dialog, Field, Notice, TextInput } from '../ui/controls.tsx';
import { copyText } from '../ui/copy.ts';

const eventWords: Readonly<Record<EventType, string>> = {
  'file.created': 'A file is made',
  'file.saved': 'A revision is saved',
  'file.moved': 'A file is moved',
  'file.trashed': 'A file is put in the trash',
  'file.restored': 'A file is restored',
  'file.removed': 'A file is removed for good',
  'run.planned': 'A batch run is planned',
  'run.applied': 'A batch run is applied',
  'run.rolled-back': 'A batch run is rolled back',
  'schedule.failed': 'A schedule could not start',
};

/** Where the team’s events are sent, signed, and what became of each message. */
export function Webhooks(): ReactNode {
  const queries = useQueryClient();
  const webhooks = useQuery({ queryKey: ['webhooks'], queryFn: api.webhooks });
  const [editing, setEditing] = useState<Webhook | 'new'>();
  const [shown, setShown] = useState<string>();
  const refresh = () => queries.invalidateQueries({ queryKey: ['webhooks'] });
  if (webhooks.isPending) return <Notice title="Loading the webhooks …" />;
  if (webhooks.isError) return <Notice title={webhooks.error.message} alert />;
  const { webhooks: list, hosts } = webhooks.data;
  return (
    <div className="flex flex-col gap-4">
      <header className="flex items-center gap-3">
        <p className="flex-1 text-sm text-soft">
          A webhook sends events of the team to another program, signed as in Standard Webhooks. Failed messages are
          sent again for a day.{' '}
          {hosts.length === 0
            ? 'No host is allowed yet. Add it to WEBHOOK_HOSTS on the server.'
            : `This server may send to: ${hosts.join(', ')}.`}
        </p>
        <Button
          look="primary"
          dim={hosts.length === 0 ? 'No host may be sent to yet.' : undefined}
          onClick={() => setEditing('new')}
        >
          Add a webhook
        </Button>
      </header>
      {list.length === 0 ? (
        <p className="text-sm text-soft">No webhooks yet.</p>
      ) : (
        <ul aria-label="Webhooks" className="flex flex-col">
          {list.map((hook) => (
            <li key={hook.id} className="flex flex-col gap-2 border-b border-line py-2 text-sm">
              <div className="flex items-center gap-3">
                <span className="min-w-0 flex-1">
                  <span className="block truncate font-bold">{hook.title}</span>
                  <span className="block truncate font-mono text-xs text-soft">{hook.url}</span>
                </span>
                <Standing hook={hook} />
                <Button
                  className="h-7"
                  aria-expanded={shown === hook.id}
                  onClick={() => setShown(shown === hook.id ? undefined : hook.id)}
                >
                  Messages
                </Button>
                <Button
                  className="h-7"
                  onClick={() =>
                    void api
                      .testWebhook(hook.id)
                      .then(() => {
                        setShown(hook.id);
                        return queries.invalidateQueries({ queryKey: ['deliveries', hook.id] });
                      })
                      .catch(tellFailure('The test could not be sent'))
                  }
                >
                  Send a test
                </Button>
                <Button className="h-7" onClick={() => setEditing(hook)}>
                  Change …
                </Button>
              </div>
              {shown === hook.id && <Messages hook={hook.id} />}
            </li>
          ))}
        </ul>
      )}
      {editing && (
        <WebhookDialog
          hook={editing === 'new' ? undefined : editing}
          hosts={hosts}
          onClose={() => {
            setEditing(undefined);
            void refresh();
          }}
        />
      )}
    </div>
  );
}

function Standing({ hook: { active, why, waiting, failed: lost } }: { hook: Webhook }): ReactNode {
  if (!active) return <span className="text-warn">{why || 'switched off'}</span>;
  return (
    <span className="text-soft">
      {waiting > 0 && `${waiting} waiting`}
      {waiting > 0 && lost > 0 && ', '}
      {lost > 0 && <span className="text-warn">{lost} failed</span>}
      {waiting === 0 && lost === 0 && 'all delivered'}
    </span>
  );
}

const states: Readonly<Record<Delivery['state'], string>> = {
  waiting: 'waiting',
  delivered: 'delivered',
  failed: 'given up',
};

function Messages({ hook }: { hook: string }): ReactNode {
  const queries = useQueryClient();
  const messages = useQuery({
    queryKey: ['deliveries', hook],
    queryFn: () => api.deliveries(hook),
    refetchInterval: 3000,
  });
  if (messages.isPending) return <p className="text-soft">Loading the messages …</p>;
  if (messages.isError)
    return (
      <p role="alert" className="text-warn">
        {messages.error.message}
      </p>
    );
  if (messages.data.length === 0) return <p className="text-soft">Nothing was sent in the last week.</p>;
  return (
    <table className="w-full text-left text-xs">
      <thead className="text-soft">
        <tr>
          {['Event', 'When', 'State', 'Answer', ''].map((title) => (
            <th key={title} scope="col" className="py-0.5 pr-3 font-normal">
              {title}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {messages.data.slice(0, 30).map((one) => (
          <tr key={one.id} className="border-t border-line">
            <td className="py-0.5 pr-3">{one.type in eventWords ? eventWords[one.type as EventType] : 'A test'}</td>
            <td className="pr-3 text-soft">{formatDistanceToNow(new Date(one.createdAt), { addSuffix: true })}</td>
            <td
              className={`pr-3 ${one.state === 'failed' ? 'text-warn' : one.state === 'delivered' ? 'text-good' : ''}`}
            >
              {states[one.state]}
              {one.tries > 1 && ` after ${one.tries} tries`}
            </td>
            <td className="pr-3 text-soft">{one.said || one.status}</td>
            <td className="text-right">
              {one.state !== 'waiting' && (
                <button
                  type="button"
                  className="underline"
                  onClick={() =>
                    void api
                      .sendAgain(hook, one.id)
                      .then(() => queries.invalidateQueries({ queryKey: ['deliveries', hook] }))
                      .catch(tellFailure('The message could not be sent'))
                  }
                >
                  Send again
                </button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function WebhookDialog({
  hook,
  hosts,
  onClose,
}: {
  hook: Webhook | undefined;
  hosts: readonly string[];
  onClose: () => void;
}): ReactNode {
  const [title, setTitle] = useState(hook?.title ?? '');
  const [url, setUrl] = useState(hook?.url ?? `http://${hosts[0] ?? ''}/`);
  const [types, setTypes] = useState<readonly EventType[]>(hook?.types ?? ['run.planned', 'run.applied']);
  const [active, setActive] = useState(hook?.active ?? true);
  const [secret, setSecret] = useState<string>();
  const { problem, attempt } = useAttempt();
  const act = (): Promise<void> =>
    attempt(async () => {
      const wanted = { title, url, types: [...types], active };
      if (hook) {
        await api.changeWebhook(hook.id, wanted);
        onClose();
      } else setSecret((await api.makeWebhook(wanted)).secret);
    });
  if (secret !== undefined)
    return (
      <Dialog
        open
        onClose={onClose}
        title="The secret of the webhook"
        about="The receiver checks signatures with it. It is shown only once."
      >
        <p className="flex items-center gap-2">
          <code className="min-w-0 flex-1 font-mono text-xs break-all">{secret}</code>
          <Button square aria-label="Copy the secret" onClick={() => copyText(secret, 'The secret is copied.')}>
            <Copy size={14} />
          </Button>
        </p>
        <Button look="primary" className="self-end" onClick={onClose}>
          Close
        </Button>
      </Dialog>
    );
  return (
    <Dialog
      open
      onClose={onClose}
      title={hook ? 'Change the webhook' : 'Add a webhook'}
      about="Each event is one signed POST request."
    >
      <form
        className="flex flex-col gap-3 overflow-auto"
        onSubmit={(event) => {
          event.preventDefault();
          void act();
        }}
      >
        <Field label="Title">
          <TextInput value={title} maxLength={200} required onChange={(event) => setTitle(event.target.value)} />
        </Field>
        <Field label="Address">
          <TextInput type="url" value={url} maxLength={500} required onChange={(event) => setUrl(event.target.value)} />
        </Field>
        <fieldset className="flex flex-col gap-1">
          <legend className="pb-1 text-sm text-soft">Send when</legend>
          {eventTypes.map((type) => (
            <Check
              key={type}
              label={eventWords[type]}
              checked={types.includes(type)}
              onChange={(on) => setTypes(on ? [...types, type] : types.filter((one) => one !== type))}
            />
          ))}
        </fieldset>
        <Check label="Switched on" checked={active} onChange={setActive} />
        <Problem text={problem} />
        <div className="flex justify-end gap-2">
          {hook && (
            <Button
              className="mr-auto"
              onClick={() =>
                void api.removeWebhook(hook.id).then(onClose).catch(tellFailure('The webhook could not be removed'))
              }
            >
              Remove the webhook
            </Button>
          )}
          <Button type="submit" look="primary" dim={types.length === 0 ? 'Choose at least one event.' : undefined}>
            {hook ? 'Save the webhook' : 'Add the webhook'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
