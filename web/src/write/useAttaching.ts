import { useCallback, useRef } from 'react';
import type { DraftContent, DraftFile, FileView } from '@kiraku/core/contract';
import { AS_LINK, fileMark, isLinked, withoutFileMarks } from '@kiraku/core/files';
import { useUploads } from '../files/useUploads.js';
import type { PlaceMark } from '../shared/editor/Editor.js';

/** What carries files: a draft, or a template. */
type Carrier = Pick<DraftContent, 'files' | 'html'>;
type ChangeCarrier = (part: Partial<Carrier> | ((content: Carrier) => Partial<Carrier>)) => void;

/** Files that travel with a message: attached, changed, taken off. A link’s place is the cursor, until it is moved. */
export function useAttaching(change: ChangeCarrier) {
  const place = useRef<PlaceMark>(() => false);
  const onPlace = useCallback((next: PlaceMark) => {
    place.current = next;
  }, []);

  const attach = useCallback(
    (file: FileView) =>
      change(({ files, html }) => {
        if (files.some(({ fileId }) => fileId === file.id)) return {};
        const mark = fileMark({ fileId: file.id, name: file.name });
        // What the editor takes, it announces itself.
        queueMicrotask(() => {
          if (!place.current(mark)) change({ html: html + mark });
        });
        return { files: [...files, { ...AS_LINK, fileId: file.id }] };
      }),
    [change],
  );
  const uploads = useUploads(attach);

  const set = (fileId: number, part: Partial<DraftFile>) =>
    change((content) => {
      const files = content.files.map((one) => (one.fileId === fileId ? { ...one, ...part } : one));
      const isHere = files.some((one) => one.fileId === fileId && isLinked(one));
      return { files, html: isHere ? content.html : withoutFileMarks(content.html, fileId) };
    });
  const takeOff = (fileId: number) =>
    change(({ files, html }) => ({
      files: files.filter((one) => one.fileId !== fileId),
      html: withoutFileMarks(html, fileId),
    }));
  return { ...uploads, onPlace, attach, set, takeOff };
}
