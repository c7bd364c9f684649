import { useCallback, useEffect, useRef, useState } from 'react';
import { DetailedError, Upload } from 'tus-js-client';
import type { FileView, Problem } from '@kiraku/core/contract';
import { api } from '../shared/api/api.js';
import { useAppDispatch } from '../shared/store/store.js';

/** A file on its way. */
export interface Uploading {
  key: number;
  name: string;
  size: number;
  sent: number;
  /** Why it stopped; null while it goes on. */
  problem: string | null;
}

const UPLOAD_RETRY_MS = [0, 1000, 3000, 5000, 10_000];
let keys = 0;

/**
 * Files on their way into the library, several at once. What is broken off goes on where it was, also after the page was
 * loaded again and the same file chosen.
 *
 * @param onDone with each file once it is in the library
 * @param fileId where it is to be a new version of one
 */
export function useUploads(onDone: (file: FileView) => void, fileId?: number) {
  const [uploads, setUploads] = useState<Uploading[]>([]);
  const running = useRef(new Map<number, Upload>());
  const done = useRef(onDone);
  useEffect(() => {
    done.current = onDone;
  });
  const dispatch = useAppDispatch();

  const change = useCallback((key: number, part: Partial<Uploading>) => {
    setUploads((all) => all.map((one) => (one.key === key ? { ...one, ...part } : one)));
  }, []);
  const drop = useCallback((key: number) => {
    running.current.delete(key);
    setUploads((all) => all.filter((one) => one.key !== key));
  }, []);

  const begin = useCallback(
    async (file: File) => {
      const key = (keys += 1);
      setUploads((all) => [...all, { key, name: file.name, size: file.size, sent: 0, problem: null }]);
      const upload = new Upload(file, {
        endpoint: '/api/uploads',
        retryDelays: UPLOAD_RETRY_MS,
        removeFingerprintOnSuccess: true,
        metadata: { filename: file.name, ...(fileId !== undefined && { fileId: String(fileId) }) },
        onProgress: (sent) => change(key, { sent }),
        onError: (error) => change(key, { problem: problemWords(error) }),
        onSuccess: ({ lastResponse }) => {
          drop(key);
          dispatch(api.util.invalidateTags(['Files']));
          done.current(JSON.parse(lastResponse.getBody()) as FileView);
        },
      });
      running.current.set(key, upload);
      const [before] = await upload.findPreviousUploads();
      if (before) upload.resumeFromPreviousUpload(before);
      upload.start();
    },
    [change, drop, dispatch, fileId],
  );

  const tryAgain = useCallback(
    (key: number) => {
      change(key, { problem: null });
      running.current.get(key)?.start();
    },
    [change],
  );
  const cancel = useCallback(
    (key: number) => {
      void running.current.get(key)?.abort(true);
      drop(key);
    },
    [drop],
  );
  return { uploads, begin, tryAgain, cancel };
}

function problemWords(error: Error | DetailedError): string {
  const body = 'originalResponse' in error ? (error.originalResponse?.getBody() ?? '') : '';
  try {
    return (JSON.parse(body) as Problem).detail;
  } catch {
    return 'The connection to Kiraku was lost. What has arrived is kept: try again.';
  }
}
