import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { teamApi } from '../api/team.ts';
import { Problem } from '../ui/attempt.tsx';
import { Button, Field, TextInput } from '../ui/controls.tsx';

/**
 * Where an invitation leads: one chooses a login and a password, and is in. The token stands behind the #, so that it
 * is in no server's log.
 */
export default function WelcomeScreen(): ReactNode {
  const form = useForm({ defaultValues: { login: '', password: '' } });
  const [problem, setProblem] = useState<string>();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const submit = form.handleSubmit(async ({ login, password }) => {
    setProblem(undefined);
    try {
      await teamApi.takeInvitation(location.hash.slice(1), login.trim(), password);
      await queries.invalidateQueries({ queryKey: ['person'] });
      navigate('/files', { replace: true });
    } catch (error) {
      setProblem((error as Error).message);
    }
  });
  const { errors, isSubmitting } = form.formState;
  return (
    <main className="grid h-full place-items-center p-6">
      <form
        onSubmit={submit}
        className="flex w-full max-w-sm flex-col gap-4 rounded border border-line bg-panel p-5"
        noValidate
      >
        <h1 className="text-xl font-bold">You are invited</h1>
        <p className="text-soft">Choose your login and password.</p>
        <Field
          label="Login"
          hint="small letters, digits, . _ -"
          problem={errors.login && 'Two small letters or digits at least, with . _ - between.'}
        >
          <TextInput
            autoComplete="username"
            autoFocus
            {...form.register('login', { required: true, pattern: /^\s*[a-z0-9._-]{2,60}\s*$/ })}
          />
        </Field>
        <Field
          label="Password"
          hint="twelve characters or more"
          problem={errors.password && 'Twelve characters or more.'}
        >
          <TextInput
            type="password"
            autoComplete="new-password"
            {...form.register('password', { required: true, minLength: 12 })}
          />
        </Field>
        <Problem text={problem} />
        <Button look="primary" type="submit" disabled={isSubmitting}>
          {isSubmitting ? 'One moment …' : 'Join the team'}
        </Button>
      </form>
    </main>
  );
}
