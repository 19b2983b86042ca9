import { toast } from 'sonner';

/** Puts text on the clipboard, and says so, or that the browser does not let it. */
export function copyText(text: string, said: string): void {
  void navigator.clipboard.writeText(text).then(
    () => toast(said),
    () => toast.error('The browser does not allow copying. Select the text and copy it yourself.'),
  );
}
