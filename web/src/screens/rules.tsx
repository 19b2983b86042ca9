import { type Project, type ProjectRules, type SavingCheck, savingChecks } from '@basitax/api/projects';
import { jsonAs } from '@basitax/core/formats/json-as';
import { askedBy, profileProblem } from '@basitax/core/rules/profile';
import { type Profile, profileSchema } from '@basitax/core/rules/profile-schema';
import { subjects } from '@basitax/core/rules/rule';
import { rules } from '@basitax/core/rules/rules';
import { plural } from '@basitax/core/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Download, FileUp, Save } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { lacksRole, usePerson } from '../api/person.ts';
import { teamApi } from '../api/team.ts';
import { download } from '../editor/download.ts';
import { usualProfile } from '../rules/house.ts';
import { RuleRow } from '../rules/rule-row.tsx';
import { Button, FileButton, Notice, SearchInput, Select } from '../ui/controls.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

const savingWords: Readonly<Record<SavingCheck, string>> = {
  off: 'check nothing',
  tell: 'list new errors',
  refuse: 'refuse new errors',
};

/** The house rules of each project: which are looked for, how grave they are, about what, and with which limits. */
export default function RulesScreen(): ReactNode {
  const projects = useQuery({ queryKey: ['projects'], queryFn: teamApi.projects });
  const [params, setParams] = useSearchParams();
  const project = projects.data?.find((one) => one.id === params.get('project')) ?? projects.data?.[0];
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BackLink to="/files">Files</BackLink>
        <h1 className="font-bold">House rules</h1>
        {project && (
          <Select
            aria-label="Project"
            value={project.id}
            onChange={(event) => setParams({ project: event.target.value })}
          >
            {projects.data?.map((one) => (
              <option key={one.id} value={one.id}>
                {one.title}
              </option>
            ))}
          </Select>
        )}
      </TopLine>
      {projects.isPending ? (
        <Notice title="Loading the projects …" />
      ) : projects.isError ? (
        <Notice title={projects.error.message} alert>
          <Button onClick={() => void projects.refetch()}>Try again</Button>
        </Notice>
      ) : project ? (
        <RulesOf key={project.id} project={project} />
      ) : (
        <Notice title="You cannot see any projects." />
      )}
    </div>
  );
}

function RulesOf({ project }: { project: Project }): ReactNode {
  const stored = useQuery({ queryKey: ['rules', project.id], queryFn: () => teamApi.rules(project.id), staleTime: 0 });
  if (stored.isPending) return <Notice title="Loading the rules …" />;
  if (stored.isError)
    return (
      <Notice title={stored.error.message} alert>
        <Button onClick={() => void stored.refetch()}>Try again</Button>
      </Notice>
    );
  return <Editor key={stored.data.version} project={project} stored={stored.data} />;
}

function Editor({ project, stored }: { project: Project; stored: ProjectRules }): ReactNode {
  const person = usePerson().data;
  const queries = useQueryClient();
  const [profile, setProfile] = useState<Profile>(stored.profile);
  const [onSave, setOnSave] = useState(stored.onSave);
  const [find, setFind] = useState('');
  const [busy, setBusy] = useState(false);
  const needsLead = lacksRole(person, 'lead');
  const isLead = needsLead === undefined;
  const isChanged =
    JSON.stringify({ profile, onSave }) !== JSON.stringify({ profile: stored.profile, onSave: stored.onSave });
  const problem = profileProblem(profile)?.message;
  const asked = new Set(askedBy(problem === undefined ? profile : usualProfile).map(({ rule }) => rule.id));
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (isChanged) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [isChanged]);
  const change = (id: string, setting: Profile['rules'][string] | undefined): void => {
    const { [id]: _old, ...others } = profile.rules;
    setProfile({ ...profile, rules: setting === undefined ? others : { ...others, [id]: setting } });
  };
  const save = async (): Promise<void> => {
    setBusy(true);
    try {
      const saved = await teamApi.saveRules(project.id, { profile, onSave, version: stored.version });
      queries.setQueryData(['rules', project.id], saved);
      void queries.invalidateQueries({ queryKey: ['projects'] });
      toast.success(
        `The rules of “${project.title}” are set. Findings of files are counted anew with their next revision.`,
      );
    } catch (error) {
      toast.error('The rules were not saved', { description: (error as Error).message });
    } finally {
      setBusy(false);
    }
  };
  const take = async (file: File): Promise<void> => {
    try {
      const taken = jsonAs(profileSchema, await file.text(), 'profile of house rules');
      const wrong = profileProblem(taken);
      if (wrong) throw new Error(wrong.message);
      setProfile(taken);
      toast(`The rules of ${file.name} are here; save them to set them.`);
    } catch (error) {
      toast.error(`${file.name} holds no rules`, { description: (error as Error).message });
    }
  };
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (text: string): boolean => words.every((word) => text.toLowerCase().includes(word));
  const shown = rules.filter((rule) => fits([rule.title, rule.why, rule.id, rule.subject].join(' ')));
  const dim = needsLead;
  return (
    <>
      <div className="flex shrink-0 flex-wrap items-center gap-2 border-b border-line bg-panel px-4 py-2 text-sm">
        <SearchInput label="Find rules" className="w-48" value={find} onText={setFind} />
        <span className="text-soft" role="status">
          {plural(asked.size, 'rule')} of {rules.length} checked
        </span>
        <Select
          aria-label="Rules that are not set here"
          disabled={!isLead}
          value={profile.others}
          onChange={(event) => setProfile({ ...profile, others: event.target.value as Profile['others'] })}
        >
          <option value="usual">Rules not set here: default</option>
          <option value="off">Rules not set here: off</option>
        </Select>
        <Select
          aria-label="What saving does"
          disabled={!isLead}
          value={onSave}
          onChange={(event) => setOnSave(event.target.value as SavingCheck)}
        >
          {savingChecks.map((one) => (
            <option key={one} value={one}>
              On save: {savingWords[one]}
            </option>
          ))}
        </Select>
        <span className="ml-auto flex gap-1.5">
          <FileButton
            accept=".json"
            label="Choose a file of rules"
            onFile={(file) => void take(file)}
            title="Loads rules from a file; save them to use them"
            dim={dim}
          >
            <FileUp size={15} />
            From a file
          </FileButton>
          <Button
            title="The rules as a file, as the command line takes them: basitax check --rules"
            onClick={() =>
              download(
                `${project.title}.rules.json`,
                `${JSON.stringify({ title: project.title, ...profile }, undefined, 2)}\n`,
                'application/json',
              )
            }
          >
            <Download size={15} />
            As a file
          </Button>
          <Button
            look="primary"
            dim={dim ?? problem ?? (isChanged ? (busy ? 'Saving …' : undefined) : 'Nothing was changed.')}
            onClick={() => void save()}
          >
            <Save size={15} />
            Save
          </Button>
        </span>
      </div>
      {problem && (
        <p role="alert" className="shrink-0 border-b border-line px-4 py-1.5 text-sm text-warn">
          {problem}
        </p>
      )}
      <main className="min-h-0 flex-1 overflow-auto p-5">
        <div className="mx-auto flex max-w-4xl flex-col gap-6">
          {shown.length === 0 && <Notice title="No rule fits." />}
          {subjects.map((subject) => {
            const some = shown.filter((rule) => rule.subject === subject);
            if (some.length === 0) return null;
            return (
              <section key={subject} aria-label={subject}>
                <h2 className="pb-1 text-base font-bold first-letter:uppercase">{subject}</h2>
                <ul>
                  {some.map((rule) => (
                    <RuleRow
                      key={rule.id}
                      rule={rule}
                      setting={profile.rules[rule.id]}
                      isOn={asked.has(rule.id)}
                      dim={!isLead}
                      onChange={(setting) => change(rule.id, setting)}
                    />
                  ))}
                </ul>
              </section>
            );
          })}
        </div>
      </main>
    </>
  );
}
