import { mayAct } from '@basitax/api/roles';
import { type ReactNode, useState } from 'react';
import { usePerson } from '../api/person.ts';
import { People } from '../team/people.tsx';
import { AuditList } from '../team/record.tsx';
import { Sessions } from '../team/sessions.tsx';
import { Webhooks } from '../team/webhooks.tsx';
import { Segments } from '../ui/controls.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

const parts = [
  ['people', 'People'],
  ['sessions', 'Sessions'],
  ['webhooks', 'Webhooks'],
  ['record', 'Record'],
] as const;

/** Who is in the team, where everybody is signed in, what is told to other programs, what was done. Those who are no lead see their own sessions. */
export default function TeamScreen(): ReactNode {
  const person = usePerson().data;
  const isLead = person ? mayAct(person.role, 'lead') : false;
  const [part, setPart] = useState<(typeof parts)[number][0]>('people');
  const shown = isLead ? part : 'sessions';
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BackLink to="/files">Files</BackLink>
        <h1 className="font-bold">{isLead ? 'Team' : 'Your sessions'}</h1>
        {isLead && <Segments label="What is shown" value={part} choices={parts} onChoose={setPart} />}
      </TopLine>
      <main className="min-h-0 flex-1 overflow-auto p-5">
        <div className="mx-auto max-w-5xl">
          {person && shown === 'people' && <People me={person} />}
          {shown === 'sessions' && <Sessions isLead={isLead} />}
          {shown === 'webhooks' && <Webhooks />}
          {shown === 'record' && <AuditList />}
        </div>
      </main>
    </div>
  );
}
