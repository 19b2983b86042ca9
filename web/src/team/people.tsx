import type { Invitation, Member, Person } from '@basitax/api/people';
import { type Role, roles } from '@basitax/api/roles';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { format, formatDistanceToNow } from 'date-fns';
import { Copy, UserPlus } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { teamApi } from '../api/team.ts';
import { Button, Dialog, Field, Notice, Select, TextInput } from '../ui/controls.tsx';
import { copyText } from '../ui/copy.ts';
import { Services } from './services.tsx';

const roleWords: Readonly<Record<Role, string>> = {
  viewer: 'viewer: looks, tries out, saves nothing',
  editor: 'editor: changes files, runs batches',
  lead: 'lead: sets up projects, rules, the catalogue, people',
};

function RoleSelect({
  value,
  label,
  onChange,
}: {
  value: Role;
  label: string;
  onChange: (role: Role) => void;
}): ReactNode {
  return (
    <Select aria-label={label} value={value} onChange={(event) => onChange(event.target.value as Role)}>
      {roles.map((role) => (
        <option key={role} value={role}>
          {roleWords[role]}
        </option>
      ))}
    </Select>
  );
}

/** The team, for leads: who is in it with which role, and who may join. */
export function People({ me }: { me: Person }): ReactNode {
  const people = useQuery({ queryKey: ['people'], queryFn: teamApi.people });
  const invitations = useQuery({ queryKey: ['invitations'], queryFn: teamApi.invitations });
  const queries = useQueryClient();
  const [changing, setChanging] = useState<Member>();
  const [removing, setRemoving] = useState<Member>();
  const [inviting, setInviting] = useState(false);
  const refresh = (): void => {
    for (const key of ['people', 'invitations', 'sessions', 'audit'])
      void queries.invalidateQueries({ queryKey: [key] });
  };
  const act = async (what: () => Promise<unknown>): Promise<void> => {
    try {
      await what();
    } catch (error) {
      toast.error('That was not done', { description: (error as Error).message });
    }
    refresh();
  };
  if (people.isPending) return <Notice title="Loading the team …" />;
  if (people.isError)
    return (
      <Notice title={people.error.message} alert>
        <Button onClick={() => void people.refetch()}>Try again</Button>
      </Notice>
    );
  return (
    <section aria-label="People" className="flex flex-col gap-3">
      <div className="flex items-center gap-3">
        <h2 className="text-base font-bold">People</h2>
        <Button look="primary" onClick={() => setInviting(true)}>
          <UserPlus size={15} />
          Invite somebody
        </Button>
      </div>
      <table className="w-full text-left text-sm">
        <thead className="text-xs text-soft">
          <tr>
            <th className="py-1 font-normal">Name</th>
            <th className="font-normal">Login</th>
            <th className="font-normal">Role</th>
            <th className="font-normal">In the team since</th>
            <th className="font-normal">Last here</th>
            <th>
              <span className="sr-only">What can be done</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {people.data
            .filter((one) => !one.service)
            .map((one) => (
              <MemberRow
                key={one.id}
                member={one}
                isMe={one.id === me.id}
                onChange={() => setChanging(one)}
                onRemove={() => setRemoving(one)}
              />
            ))}
          {invitations.data?.map((one) => (
            <InvitationRow
              key={one.id}
              invitation={one}
              onTakeBack={() => void act(() => teamApi.takeInvitationBack(one.id))}
            />
          ))}
        </tbody>
      </table>
      <Services services={people.data.filter((one) => one.service)} onRemove={setRemoving} onChanged={refresh} />
      {inviting && (
        <InviteDialog
          onClose={() => {
            setInviting(false);
            refresh();
          }}
        />
      )}
      {changing && (
        <ChangeDialog
          member={changing}
          isMe={changing.id === me.id}
          onClose={(wanted) => {
            if (wanted) void act(() => teamApi.changeMember(changing.id, wanted));
            setChanging(undefined);
          }}
        />
      )}
      {removing && (
        <RemoveDialog
          member={removing}
          onClose={(sure) => {
            if (sure) void act(() => teamApi.removeMember(removing.id));
            setRemoving(undefined);
          }}
        />
      )}
    </section>
  );
}

function MemberRow({
  member,
  isMe,
  onChange,
  onRemove,
}: {
  member: Member;
  isMe: boolean;
  onChange: () => void;
  onRemove: () => void;
}): ReactNode {
  return (
    <tr className="border-t border-line">
      <td className="py-1.5 font-bold">
        {member.name}
        {isMe && <span className="font-normal text-soft"> (you)</span>}
      </td>
      <td className="font-mono text-xs">{member.login}</td>
      <td>{member.role}</td>
      <td className="text-soft">{format(new Date(member.createdAt), 'd MMM yyyy')}</td>
      <td className="text-soft">
        {member.seenAt ? formatDistanceToNow(new Date(member.seenAt), { addSuffix: true }) : 'not signed in'}
      </td>
      <td className="py-1 text-right whitespace-nowrap">
        <Button className="h-7" aria-label={`Change ${member.name}`} onClick={onChange}>
          Change
        </Button>{' '}
        <Button
          className="h-7"
          aria-label={`Remove ${member.name}`}
          dim={isMe ? 'You cannot remove yourself; another lead can.' : undefined}
          onClick={onRemove}
        >
          Remove
        </Button>
      </td>
    </tr>
  );
}

function InvitationRow({ invitation, onTakeBack }: { invitation: Invitation; onTakeBack: () => void }): ReactNode {
  return (
    <tr className="border-t border-line text-soft">
      <td className="py-1.5">{invitation.name}</td>
      <td>invited</td>
      <td>{invitation.role}</td>
      <td colSpan={2}>
        by {invitation.by}, until {format(new Date(invitation.expiresAt), 'd MMM, HH:mm')}
      </td>
      <td className="py-1 text-right">
        <Button
          className="h-7 text-ink"
          aria-label={`Take the invitation of ${invitation.name} back`}
          onClick={onTakeBack}
        >
          Take back
        </Button>
      </td>
    </tr>
  );
}

/** Asks once more before somebody is taken out of the team. */
function RemoveDialog({ member, onClose }: { member: Member; onClose: (sure: boolean) => void }): ReactNode {
  return (
    <Dialog
      open
      onClose={() => onClose(false)}
      title={`Take ${member.name} out of the team?`}
      about="Sessions and tokens end at once. Revisions keep the name. The person’s settings are removed."
    >
      <div className="flex justify-end gap-2">
        <Button onClick={() => onClose(false)}>Cancel</Button>
        <Button look="primary" onClick={() => onClose(true)}>
          Remove {member.name}
        </Button>
      </div>
    </Dialog>
  );
}

function ChangeDialog({
  member,
  isMe,
  onClose,
}: {
  member: Member;
  isMe: boolean;
  onClose: (wanted?: { name: string; role: Role }) => void;
}): ReactNode {
  const [name, setName] = useState(member.name);
  const [role, setRole] = useState(member.role);
  return (
    <Dialog
      open
      onClose={() => onClose()}
      title={`Change ${member.name}`}
      about="A new role takes effect with the next request."
    >
      <Field label="Name">
        <TextInput autoFocus value={name} maxLength={100} onChange={(event) => setName(event.target.value)} />
      </Field>
      {isMe ? (
        <p className="text-sm text-soft">Only another lead can change your role.</p>
      ) : (
        <RoleSelect label="Role" value={role} onChange={setRole} />
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={() => onClose()}>Cancel</Button>
        <Button
          look="primary"
          dim={name.trim() === '' ? 'Type a name.' : undefined}
          onClick={() => onClose({ name: name.trim(), role })}
        >
          Change
        </Button>
      </div>
    </Dialog>
  );
}

/** Asks who is to join, and then gives the link. */
function InviteDialog({ onClose }: { onClose: () => void }): ReactNode {
  const [name, setName] = useState('');
  const [role, setRole] = useState<Role>('editor');
  const [link, setLink] = useState<string>();
  const [problem, setProblem] = useState<string>();
  const invite = async (): Promise<void> => {
    setProblem(undefined);
    try {
      const { token } = await teamApi.invite({ name: name.trim(), role });
      setLink(`${location.origin}/welcome#${token}`);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  if (link !== undefined)
    return (
      <Dialog
        open
        onClose={onClose}
        title={`Hand this link to ${name.trim()}`}
        about="It is shown only now, works once, and expires after seven days. Anyone who has it can join."
      >
        <code className="rounded-sm border border-line bg-ticket p-2 font-mono text-xs break-all">{link}</code>
        <div className="flex justify-end gap-2">
          <Button onClick={() => copyText(link, 'The link is copied.')}>
            <Copy size={15} />
            Copy
          </Button>
          <Button look="primary" onClick={onClose}>
            Done
          </Button>
        </div>
      </Dialog>
    );
  return (
    <Dialog
      open
      onClose={onClose}
      title="Invite somebody"
      about="Makes a link with which that person chooses a login and a password."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() !== '') void invite();
        }}
      >
        <Field label="Name, as shown with revisions" problem={problem}>
          <TextInput autoFocus value={name} maxLength={100} onChange={(event) => setName(event.target.value)} />
        </Field>
        <RoleSelect label="Role" value={role} onChange={setRole} />
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" look="primary" dim={name.trim() === '' ? 'Type a name.' : undefined}>
            Make the link
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
