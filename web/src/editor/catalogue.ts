import { emptyCatalogue } from '@basitax/core/document/catalogue';
import { Kinds } from '@basitax/core/document/kinds';
import { toast } from 'sonner';
import { api } from '../api/client.ts';
import { useEditor } from './store.ts';

const { getState, setState } = useEditor;

/** Reads the catalogue that the document is pinned to anew: with what was published since, or another version. */
export async function renewKinds(): Promise<void> {
  const { fileId, doc } = getState();
  const { id, version } = doc.head.catalogue;
  const fresh = id === 'none' ? emptyCatalogue : await api.catalogue(id, version);
  // another file may have been opened meanwhile
  if (getState().fileId === fileId) setState({ catalogue: fresh, kinds: new Kinds(fresh) });
}

/**
 * Keeps the kinds those that the document is pinned to, whatever an act, an undo or an old revision made of that.
 * Returns a way to stop.
 */
export function followCatalogue(): () => void {
  let asked = '';
  const check = (): void => {
    const { doc, catalogue } = getState();
    const { id, version } = doc.head.catalogue;
    const key = `${id} ${version}`;
    // a team may lack what a file is pinned to; that is asked once
    if ((catalogue.id === id && catalogue.version === version) || asked === key || id === 'none') return;
    asked = key;
    renewKinds().catch((error: Error) =>
      toast.error('The catalogue could not be read', { description: error.message, duration: 8000 }),
    );
  };
  check();
  return useEditor.subscribe((state, before) => {
    if (state.doc.head.catalogue === before.doc.head.catalogue && state.fileId === before.fileId) return;
    asked = '';
    check();
  });
}
