import { toast } from 'sonner';
import { api } from '../api/client.ts';
import { chooseOne } from './dialogs.ts';

/**
 * Where the asset store has a file of this name; of several the person says which. Undefined, and said, where it has
 * none.
 */
export async function pathOf(name: string): Promise<string | undefined> {
  try {
    const paths = await api.assets(name);
    if (paths.length === 0) {
      toast.error(`The asset store has no “${name}”`, {
        description: 'Nothing was changed. Check the name, or type the path in the inspector.',
        duration: 7000,
      });
      return undefined;
    }
    if (paths.length === 1) return paths[0];
    const chosen = await chooseOne(
      `Which “${name}”?`,
      paths.map((path) => ({ label: path })),
    );
    return chosen === undefined ? undefined : paths[chosen];
  } catch (error) {
    toast.error(`“${name}” was not found`, { description: (error as Error).message, duration: 7000 });
    return undefined;
  }
}
