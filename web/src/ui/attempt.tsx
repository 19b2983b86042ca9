import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';

/** What went wrong, as a sentence. */
export const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** Says in a message that something could not be done, and why. */
export const tellFailure =
  (title: string) =>
  (error: unknown): void =>
    void toast.error(title, { description: messageOf(error) });

/** Something that a form does: whether it is under way, and why it could not be done last. */
export function useAttempt(): {
  readonly problem: string | undefined;
  readonly isBusy: boolean;
  attempt(act: () => Promise<void>): Promise<void>;
} {
  const [problem, setProblem] = useState<string>();
  const [isBusy, setBusy] = useState(false);
  return {
    problem,
    isBusy,
    async attempt(act) {
      setBusy(true);
      setProblem(undefined);
      try {
        await act();
      } catch (error) {
        setProblem(messageOf(error));
      }
      setBusy(false);
    },
  };
}

/** Why something could not be done, above the buttons of a form. */
export const Problem = ({ text }: { text: string | undefined }): ReactNode =>
  text && (
    <p role="alert" className="text-sm text-warn">
      {text}
    </p>
  );
