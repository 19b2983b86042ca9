import { toast } from 'sonner';

/** Says what was adapted on the way, when one's own changes were brought over those of others: a sentence each. */
export function tellAdapted(sentences: readonly string[]): void {
  if (sentences.length === 0) return;
  const shown = sentences.slice(0, 4).join(' ');
  const more = sentences.length > 4 ? ` … and ${sentences.length - 4} more.` : '';
  toast.warning('Adapted to what others saved', { description: `${shown}${more}`, duration: 12_000 });
}
