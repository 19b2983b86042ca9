import { ruleById } from '@basitax/core/rules/rules';
import type { ReactNode } from 'react';
import { useParams } from 'react-router';
import { optionsIn } from '../editor/panels/operation-form.tsx';
import { severityWords } from '../rules/rule-row.tsx';
import { Notice } from '../ui/controls.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

/** The page of a house rule: what it looks for, why, and what to do instead. */
export default function RuleScreen(): ReactNode {
  const { id = '' } = useParams();
  const rule = ruleById(id);
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BackLink to="/rules">House rules</BackLink>
        <h1 className="font-bold">{rule?.title ?? 'No such rule'}</h1>
      </TopLine>
      {!rule ? (
        <Notice title={`There is no house rule “${id}”.`} />
      ) : (
        <main className="min-h-0 flex-1 overflow-auto p-6">
          <dl className="mx-auto grid max-w-3xl grid-cols-[9rem_1fr] gap-x-6 gap-y-4">
            <dt className="text-soft">Why</dt>
            <dd>{rule.why}</dd>
            <dt className="text-soft">What to do</dt>
            <dd>{rule.instead}</dd>
            <dt className="text-soft">About</dt>
            <dd>{rule.subject}</dd>
            <dt className="text-soft">Severity</dt>
            <dd>
              {severityWords[rule.severity]}
              {rule.optional
                ? ', where a project asks for it: a matter of the house’s own taste'
                : ', unless a project says otherwise'}
            </dd>
            {rule.options && (
              <>
                <dt className="text-soft">Can be set</dt>
                <dd>
                  <ul className="flex flex-col gap-2">
                    {optionsIn(rule.options).map(([name, schema]) => (
                      <li key={name}>
                        <code className="font-mono">{name}</code> {schema.description}
                        <span className="text-soft"> Usually {JSON.stringify(schema.default)}.</span>
                      </li>
                    ))}
                  </ul>
                </dd>
              </>
            )}
            <dt className="text-soft">On the command line</dt>
            <dd>
              <code className="font-mono text-sm">npx basitax check FILE… --rules {rule.id}</code>
            </dd>
          </dl>
        </main>
      )}
    </div>
  );
}
