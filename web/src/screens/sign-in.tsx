import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { useForm } from 'react-hook-form';
import { useLocation, useNavigate } from 'react-router';
import { api } from '../api/client.ts';
import { Problem } from '../ui/attempt.tsx';
import { Button, Field, TextInput } from '../ui/controls.tsx';

export default function SignInScreen(): ReactNode {
  const form = useForm({ defaultValues: { login: '', password: '' } });
  const [problem, setProblem] = useState<string>();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const from = (useLocation().state as { from?: string } | null)?.from ?? '/files';
  const submit = form.handleSubmit(async ({ login, password }) => {
    setProblem(undefined);
    try {
      queries.setQueryData(['person'], await api.signIn(login, password));
      navigate(from, { replace: true });
    } catch (error) {
      setProblem((error as Error).message);
    }
  });
  const { errors, isSubmitting } = form.formState;
  return (
    <main className="grid h-full place-items-center p-6">
      <div className="flex w-full max-w-sm flex-col gap-6">
        <div className="flex items-center gap-3">
          <img src="/icon.svg" alt="" className="size-11 rounded border border-line" />
          <div>
            <h1 className="text-2xl font-bold">Basitax</h1>
            <p className="text-soft">Large node graphs, kept readable.</p>
          </div>
        </div>
        <form onSubmit={submit} className="flex flex-col gap-4 rounded border border-line bg-panel p-5" noValidate>
          <Field label="Login" problem={errors.login && 'Type your login.'}>
            <TextInput autoComplete="username" autoFocus {...form.register('login', { required: true })} />
          </Field>
          <Field label="Password" problem={errors.password && 'Type your password.'}>
            <TextInput
              type="password"
              autoComplete="current-password"
              {...form.register('password', { required: true })}
            />
          </Field>
          <Problem text={problem} />
          <Button look="primary" type="submit" disabled={isSubmitting}>
            {isSubmitting ? 'Signing in …' : 'Sign in'}
          </Button>
        </form>
      </div>
    </main>
  );
}
