import { mayAct } from '@basitax/api/roles';
import { graphPath } from '@basitax/core/document/doc';
import { must } from '@basitax/core/must';
import { isDirty } from '@basitax/core/session/session';
import { useQuery } from '@tanstack/react-query';
import { ArrowLeft, ArrowRight, ChevronLeft, ChevronRight, History, Save, Search } from 'lucide-react';
import { type ComponentType, type ReactNode, useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { toast } from 'sonner';
import { openFile } from '../api/opening.ts';
import { usePerson } from '../api/person.ts';
import { copy, paste, perform } from '../editor/actions.ts';
import { followAddress, goTo } from '../editor/address.ts';
import { Canvas } from '../editor/canvas/canvas.tsx';
import { followCatalogue } from '../editor/catalogue.ts';
import { commandById, runCommand } from '../editor/commands.ts';
import { closeDialog, focusCanvas, openDialog, useDialogs } from '../editor/dialogs.ts';
import { ComparePanel } from '../editor/inspect/compare-panel.tsx';
import { CostPanel } from '../editor/inspect/cost-panel.tsx';
import { DependenciesPanel } from '../editor/inspect/dependencies-panel.tsx';
import { FindingsPanel } from '../editor/inspect/findings-panel.tsx';
import { ask } from '../editor/inspect/questions.ts';
import { ReadabilityPanel } from '../editor/inspect/readability-panel.tsx';
import { UsesPanel } from '../editor/inspect/uses-panel.tsx';
import { letAllGo } from '../editor/kept.ts';
import { type Left, useLayout } from '../editor/layout.ts';
import { whyNoSave } from '../editor/may-edit.ts';
import { CanvasMenu } from '../editor/menu/canvas-menu.tsx';
import { followNeighbourhood } from '../editor/neighbourhood.ts';
import { AddNodeDialog } from '../editor/panels/add-node.tsx';
import { AdvicePanel } from '../editor/panels/advice.tsx';
import { BeaconDialog, BeaconsPanel } from '../editor/panels/beacons.tsx';
import { CaptionsDialog } from '../editor/panels/captions-dialog.tsx';
import { DownloadMenu } from '../editor/panels/download-menu.tsx';
import { EndsDialog } from '../editor/panels/ends.tsx';
import { FindDialog } from '../editor/panels/find.tsx';
import { HistoryPanel } from '../editor/panels/history.tsx';
import { Inspector } from '../editor/panels/inspector.tsx';
import { LegendPanel } from '../editor/panels/legend.tsx';
import { OperationDialog } from '../editor/panels/operation-form.tsx';
import { OutlinePanel } from '../editor/panels/outline.tsx';
import { Palette } from '../editor/panels/palette.tsx';
import { PeekDialog } from '../editor/panels/peek.tsx';
import { PreviewBar } from '../editor/panels/preview-bar.tsx';
import { PublishDialog } from '../editor/panels/publish-dialog.tsx';
import { QueryDialog } from '../editor/panels/query-dialog.tsx';
import { RegionsPanel } from '../editor/panels/regions.tsx';
import { RevisionsDialog } from '../editor/panels/revisions.tsx';
import { SaveDialog } from '../editor/panels/save-dialog.tsx';
import { SetsPanel } from '../editor/panels/sets.tsx';
import { TableOutDialog } from '../editor/panels/table-dialog.tsx';
import { Toolbar } from '../editor/panels/toolbar.tsx';
import { SaveViewDialog, ViewsMenu } from '../editor/panels/views-menu.tsx';
import { BridgeDialog, ChoiceDialog, PortsDialog, ReportDialog } from '../editor/panels/wire-dialogs.tsx';
import { loadScheme } from '../editor/scheme.ts';
import { ScriptPanel } from '../editor/script/script-panel.tsx';
import { keyOf, useKeys, useOwnShortcuts } from '../editor/shortcuts/keys-store.ts';
import { ShortcutsDialog } from '../editor/shortcuts/shortcuts-table.tsx';
import { enterGraph, loadDocument, useEditing, useEditor } from '../editor/store.ts';
import { TogetherBars } from '../editor/together/bars.tsx';
import { ConflictsDialog } from '../editor/together/conflicts-dialog.tsx';
import { followLive } from '../editor/together/live.ts';
import { PeopleHere } from '../editor/together/people.tsx';
import { keepUnsaved } from '../editor/together/unsaved.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { TopLine } from '../ui/top-line.tsx';
import { workRunner } from '../work/runner.ts';

/** Loads a revision into the editor, and shows it. */
export default function EditorScreen(): ReactNode {
  const { id = '', number } = useParams();
  const person = usePerson().data;
  const loaded = useQuery({
    queryKey: ['document', id, number ?? 'head'],
    queryFn: () => openFile(id, number === undefined ? 'head' : Number(number)),
    // what is being edited is never replaced behind one's back
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  const { data } = loaded;
  const [ready, setReady] = useState<typeof data>();
  useEffect(() => {
    if (!data || !person) return;
    const isOld = number !== undefined && data.number < data.file.head.number;
    const readOnly = isOld
      ? `This is revision ${data.number}, an old one. Restore it to continue from here.`
      : mayAct(person.role, 'editor')
        ? undefined
        : `You need the role editor to change files; your role is ${person.role}.`;
    loadDocument({
      fileId: id,
      title: data.file.title,
      readOnly,
      revision: data.number,
      catalogue: data.catalogue,
      doc: data.doc,
    });
    setReady(data);
  }, [data, person, id, number]);
  if (loaded.isError) {
    return (
      <Notice title={loaded.error.message} alert>
        <Button onClick={() => void loaded.refetch()}>Try again</Button>
        <Link className="underline" to="/files">
          Go to the files
        </Link>
      </Notice>
    );
  }
  if (!data || ready !== data) return <Notice title="Opening the graph …" />;
  return (
    <Editor
      onReload={() => void loaded.refetch()}
      isOld={number !== undefined && data.number < data.file.head.number}
    />
  );
}

function Editor({ onReload, isOld }: { onReload: () => void; isOld: boolean }): ReactNode {
  const dirty = useEditor(isDirty);
  const revision = useEditor((state) => state.revision);
  const readOnly = useEditor((state) => state.readOnly);
  const left = useLayout((state) => state.left);
  const Panel = left && panels[left];
  // a frame later, when the canvas knows its size
  useEffect(() => {
    const frame = requestAnimationFrame(() => goTo(location.search));
    return () => cancelAnimationFrame(frame);
  }, []);
  useEffect(() => followAddress(), []);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (isDirty(useEditor.getState())) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, []);
  useClipboard();
  useEffect(() => {
    const key = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.isComposing) return;
      if (event.key.toLowerCase() === 's') {
        event.preventDefault();
        runCommand('save');
      } else if (event.key.toLowerCase() === 'k') {
        event.preventDefault();
        openDialog('palette');
      }
    };
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, []);
  const fileId = useEditor((state) => state.fileId);
  const person = usePerson().data?.id;
  // an old revision is looked at by oneself
  useEffect(() => (isOld ? undefined : followLive(fileId)), [fileId, isOld]);
  useEffect(() => (isOld || person === undefined ? undefined : keepUnsaved(fileId, person)), [fileId, person, isOld]);
  useOwnShortcuts();
  useEffect(() => void loadScheme(), []);
  // what a save asks has to be there when the network is not
  useEffect(() => {
    const timer = setTimeout(() => workRunner.warm(), 1500);
    return () => clearTimeout(timer);
  }, []);
  useEffect(() => followCatalogue(), []);
  // panels that were kept belong to the file that was open
  useEffect(() => letAllGo, []);
  // what was asked about it, too
  useEffect(() => () => ask({ of: [], other: undefined }), []);
  useEffect(() => followNeighbourhood(), []);
  // what was open over another file does not stay
  useEffect(() => closeDialog, []);
  const saving = useEditor((state) => state.saving);
  const cannotSave = whyNoSave({ readOnly, saving }, dirty);
  return (
    <div className="flex h-full flex-col">
      <TopLine
        actions={
          <>
            <PeopleHere />
            <span className="mr-1 text-xs whitespace-nowrap text-soft" role="status">
              {readOnly ? `Revision ${revision}, read only` : dirty ? 'Unsaved changes' : `Revision ${revision}, saved`}
            </span>
            <Button
              look={dirty ? 'primary' : 'plain'}
              title="Save a revision"
              dim={cannotSave}
              onClick={() => openDialog('save')}
            >
              <Save size={16} />
              Save
            </Button>
            <Button title="Revisions" onClick={() => openDialog('revisions')}>
              <History size={16} />
              Revisions
            </Button>
            <DownloadMenu />
          </>
        }
      >
        <Path />
        <Travel />
      </TopLine>
      <TogetherBars />
      {readOnly && <p className="shrink-0 border-b border-line bg-accent-wash px-4 py-1.5 text-sm">{readOnly}</p>}
      <div className="flex min-h-0 flex-1">
        {Panel && <Panel />}
        <Canvas />
        <CanvasMenu />
        <Inspector />
      </div>
      <PreviewBar />
      <Toolbar />
      <Dialogs onReload={onReload} />
    </div>
  );
}

/** What stands on the left, one at a time. */
const panels: Readonly<Record<Left, ComponentType>> = {
  outline: OutlinePanel,
  beacons: BeaconsPanel,
  advice: AdvicePanel,
  sets: SetsPanel,
  legend: LegendPanel,
  regions: RegionsPanel,
  dependencies: DependenciesPanel,
  leftovers: FindingsPanel,
  cost: CostPanel,
  uses: UsesPanel,
  readability: ReadabilityPanel,
  compare: ComparePanel,
  script: ScriptPanel,
  history: HistoryPanel,
};

/** What lies above the editor, one at a time. */
function Dialogs({ onReload }: { onReload: () => void }): ReactNode {
  const opened = useDialogs((state) => state.opened);
  if (opened === undefined) return null;
  if (typeof opened === 'object') {
    if ('beacons' in opened) return <BeaconDialog use={opened.beacons} onClose={closeDialog} />;
    if ('ends' in opened) return <EndsDialog id={opened.ends} onClose={closeDialog} />;
    if ('peek' in opened) return <PeekDialog id={opened.peek} onClose={closeDialog} />;
    if ('add' in opened) return <AddNodeDialog adding={opened.add} onClose={closeDialog} />;
    if ('ports' in opened) return <PortsDialog node={opened.ports} inHand={opened.inHand} onClose={closeDialog} />;
    if ('bridge' in opened) return <BridgeDialog {...opened.bridge} why={opened.why} onClose={closeDialog} />;
    if ('choose' in opened)
      return <ChoiceDialog title={opened.choose} choices={opened.choices} chosen={opened.chosen} />;
    if ('report' in opened) return <ReportDialog {...opened} onClose={closeDialog} />;
    if ('meet' in opened)
      return (
        <ConflictsDialog
          met={opened.meet}
          button={opened.button}
          onResolved={async (edit) => {
            await opened.resolved(edit);
            closeDialog();
          }}
          onClose={closeDialog}
        />
      );
    if ('publish' in opened) return <PublishDialog id={opened.publish} onClose={closeDialog} />;
    return <OperationDialog id={opened.operation} items={opened.items} onClose={closeDialog} />;
  }
  switch (opened) {
    case 'captions':
      return <CaptionsDialog onClose={closeDialog} />;
    case 'save':
      return <SaveDialog onClose={closeDialog} />;
    case 'revisions':
      return <RevisionsDialog onClose={closeDialog} onRestored={onReload} />;
    case 'palette':
      return <Palette onClose={closeDialog} />;
    case 'find':
      return <FindDialog onClose={closeDialog} />;
    case 'query':
      return <QueryDialog onClose={closeDialog} />;
    case 'table-out':
      return <TableOutDialog onClose={closeDialog} />;
    case 'save-view':
      return <SaveViewDialog onClose={closeDialog} />;
    case 'shortcuts':
      return <ShortcutsDialog onClose={closeDialog} />;
    case 'views':
      return null;
  }
}

/** Back and forward through the places visited, saved views, find. */
function Travel(): ReactNode {
  const state = useEditing();
  const keys = useKeys();
  const slot = (id: string, icon: ReactNode): ReactNode => {
    const command = must(commandById(id));
    return (
      <Button
        look="quiet"
        square
        className="w-7"
        aria-label={command.title}
        title={`${command.title} (${keyOf(id, keys)})`}
        dim={command.dim(state)}
        onClick={command.run}
      >
        {icon}
      </Button>
    );
  };
  return (
    <span className="flex shrink-0 items-center">
      {slot('back', <ArrowLeft size={16} />)}
      {slot('forward', <ArrowRight size={16} />)}
      <ViewsMenu />
      <Button
        look="quiet"
        className="px-1.5"
        aria-label="Find and go"
        title={`Find and go (${keyOf('find', keys)})`}
        onClick={() => openDialog('find')}
      >
        <Search size={16} />
        <span className="hidden xl:inline">Find</span>
      </Button>
    </span>
  );
}

/** The path from the files to the graph that is shown. */
function Path(): ReactNode {
  const doc = useEditor((state) => state.doc);
  const graph = useEditor((state) => state.graph);
  const title = useEditor((state) => state.title);
  const path = useMemo(() => graphPath(doc, graph), [doc, graph]);
  return (
    <nav aria-label="Path" className="flex min-w-0 items-center gap-1">
      <Link
        to="/files"
        className="flex items-center gap-0.5 rounded-sm px-1 py-1 text-soft hover:bg-accent-wash"
        aria-label="Back to the files"
      >
        <ChevronLeft size={16} />
        Files
      </Link>
      {path.map((id, i) => {
        const name = i === 0 ? title : (doc.graphs.get(id)?.name ?? id);
        return (
          <span key={id} className="flex min-w-0 items-center gap-1">
            <ChevronRight size={14} className="shrink-0 text-soft" aria-hidden="true" />
            {i === path.length - 1 ? (
              <h1 className="truncate font-bold" aria-current="page">
                {name}
              </h1>
            ) : (
              <button
                type="button"
                className="truncate rounded-sm px-1 hover:bg-accent-wash"
                onClick={() => {
                  enterGraph(id);
                  focusCanvas();
                }}
              >
                {name}
              </button>
            )}
          </span>
        );
      })}
    </nav>
  );
}

/** The clipboard's own events, so that no permission is asked for. Only while nothing is being typed. */
function useClipboard(): void {
  useEffect(() => {
    const typing = (): boolean => {
      const at = document.activeElement;
      return (
        at instanceof HTMLInputElement ||
        at instanceof HTMLTextAreaElement ||
        at instanceof HTMLSelectElement ||
        (at instanceof HTMLElement && at.isContentEditable) ||
        at?.closest('[role="dialog"]') !== null
      );
    };
    const onCopy = (event: ClipboardEvent): void => {
      if (typing() || useEditor.getState().selection.length === 0) return;
      const text = copy();
      if (text === undefined) return;
      event.clipboardData?.setData('text/plain', text);
      event.preventDefault();
      if (event.type === 'cut') void perform('delete');
      else toast(`Copied ${useEditor.getState().selection.length.toLocaleString('en')} selected.`, { duration: 1500 });
    };
    // with Shift the incoming wires come along; the event of pasting does not say whether it is held
    let isShifted = false;
    const onShift = (event: KeyboardEvent): void => {
      isShifted = event.shiftKey;
    };
    const onPaste = (event: ClipboardEvent): void => {
      if (typing()) return;
      event.preventDefault();
      void paste(event.clipboardData?.getData('text/plain'), isShifted);
    };
    window.addEventListener('keydown', onShift, true);
    window.addEventListener('keyup', onShift, true);
    document.addEventListener('copy', onCopy);
    document.addEventListener('cut', onCopy);
    document.addEventListener('paste', onPaste);
    return () => {
      document.removeEventListener('copy', onCopy);
      document.removeEventListener('cut', onCopy);
      document.removeEventListener('paste', onPaste);
      window.removeEventListener('keydown', onShift, true);
      window.removeEventListener('keyup', onShift, true);
    };
  }, []);
}
