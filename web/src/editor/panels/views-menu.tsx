import { type SavedView, savedViewsSchema } from '@basitax/api/settings';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Bookmark, ChevronDown, Trash2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { tellFailure } from '../../ui/attempt.tsx';
import { Button, Dialog, Field, TextInput } from '../../ui/controls.tsx';
import { itemLook, menuLook } from '../../ui/top-line.tsx';
import { closeDialog, closeToCanvas, openDialog, useDialogs } from '../dialogs.ts';
import { remember, showGraph, useEditor, viewControl } from '../store.ts';

const { getState } = useEditor;

/** The views that this person has saved in this file. */
function useViews() {
  const fileId = useEditor((state) => state.fileId);
  const name = `views-${fileId}`;
  const queries = useQueryClient();
  const query = useQuery({
    queryKey: ['setting', name],
    queryFn: async () => (await api.setting(name, savedViewsSchema)) ?? [],
    enabled: fileId !== '',
  });
  const save = async (views: readonly SavedView[]): Promise<void> => {
    const before = query.data ?? [];
    queries.setQueryData(['setting', name], views);
    try {
      await api.saveSetting(name, views);
    } catch (error) {
      queries.setQueryData(['setting', name], before);
      tellFailure('The views were not saved.')(error);
    }
  };
  return { views: query.data ?? [], save };
}

function goToView(view: SavedView): void {
  if (!getState().doc.graphs.has(view.graph)) {
    toast(`The graph of “${view.name}” is no longer in this file.`);
    return;
  }
  remember();
  if (showGraph(view.graph, getState().graph === view.graph ? getState().selection : [])) viewControl.set(view);
}

export function ViewsMenu(): ReactNode {
  const { views, save } = useViews();
  const isOpen = useDialogs((state) => state.opened === 'views');
  return (
    <DropdownMenu.Root open={isOpen} onOpenChange={(open) => (open ? openDialog('views') : isOpen && closeDialog())}>
      <DropdownMenu.Trigger asChild>
        <Button look="quiet" aria-label="Saved views" className="px-1.5">
          <Bookmark size={16} />
          <ChevronDown size={12} />
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={`${menuLook} max-h-[70vh] overflow-auto`} align="start" sideOffset={4}>
          <DropdownMenu.Label className="px-2 py-1 text-xs text-soft">
            {views.length === 0 ? 'No view is saved in this file yet.' : 'Your views of this file'}
          </DropdownMenu.Label>
          {views.map((view) => (
            <div key={view.name} className="flex items-center">
              <DropdownMenu.Item
                className={`${itemLook} flex-1`}
                onSelect={() => {
                  closeToCanvas();
                  goToView(view);
                }}
              >
                {view.name} <span className="ml-auto pl-4 text-xs text-soft">{Math.round(view.zoom * 100)} %</span>
              </DropdownMenu.Item>
              <DropdownMenu.Item
                className={itemLook}
                aria-label={`Remove the view ${view.name}`}
                onSelect={(event) => {
                  event.preventDefault();
                  void save(views.filter((other) => other !== view));
                }}
              >
                <Trash2 size={14} />
              </DropdownMenu.Item>
            </div>
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Item className={itemLook} onSelect={() => setTimeout(() => openDialog('save-view'), 0)}>
            Save this view …
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** Keeps graph, place and zoom under a name; a name that is there already is taken over. */
export function SaveViewDialog({ onClose }: { onClose: () => void }): ReactNode {
  const { views, save } = useViews();
  const [name, setName] = useState(() => {
    const { doc, graph, title } = getState();
    return graph === doc.head.root ? title : (doc.graphs.get(graph)?.name ?? '');
  });
  const isThere = views.some((view) => view.name === name.trim());
  return (
    <Dialog
      open
      onClose={onClose}
      title="Save this view"
      about="Graph, place and zoom, to come back to. Only you see your views; its address can be sent to anyone."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() === '') return;
          const { graph, view } = getState();
          const own = { name: name.trim(), graph, ...view };
          void save(
            [...views.filter((other) => other.name !== own.name), own].sort((a, b) => (a.name < b.name ? -1 : 1)),
          );
          onClose();
          toast(`The view “${own.name}” is saved.`, { duration: 2000 });
        }}
      >
        <Field label="Name">
          <TextInput
            autoFocus
            value={name}
            maxLength={100}
            onChange={(event) => setName(event.target.value)}
            onFocus={(event) => event.target.select()}
          />
        </Field>
        <Button type="submit" look="primary" dim={name.trim() === '' ? 'Give it a name.' : undefined}>
          {isThere ? 'Save in its place' : 'Save the view'}
        </Button>
      </form>
    </Dialog>
  );
}
