import { UnreadableFile } from '@basitax/core/document/unreadable';
import { entriesOf } from '@basitax/core/formats/archive';

// Archives are unpacked beside the page, which goes on.
self.addEventListener('message', ({ data }: MessageEvent<Uint8Array>) => {
  try {
    self.postMessage({ entries: entriesOf(data) });
  } catch (error) {
    if (!(error instanceof UnreadableFile)) throw error;
    self.postMessage({ problem: error.message });
  }
});
