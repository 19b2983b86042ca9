import type { FileInfo } from '@basitax/api/files';
import type { Project } from '@basitax/api/projects';
import type { ReactNode } from 'react';
import type { Act } from './file-card.tsx';
import { DuplicateDialog, MoveDialog, TagDialog, TrashDialog } from './file-dialogs.tsx';

/** What is being done with some files. */
export interface Acting {
  readonly act: Act;
  readonly files: readonly FileInfo[];
}

/** The dialog of an act on files. `onClose` says whether it was done. */
export function ActDialog({
  acting: { act, files },
  all,
  projects,
  onClose,
}: {
  acting: Acting;
  all: readonly FileInfo[];
  projects: readonly Project[];
  onClose: (done: boolean) => void;
}): ReactNode {
  switch (act) {
    case 'duplicate':
      return <DuplicateDialog files={files} onClose={onClose} />;
    case 'move':
      return <MoveDialog files={files} all={all} projects={projects} onClose={onClose} />;
    case 'tag':
      return <TagDialog files={files} all={all} onClose={onClose} />;
    case 'trash':
      return <TrashDialog files={files} onClose={onClose} />;
  }
}
