import { useCallback, useRef, useState } from 'react';
import { ApiFailure } from './api';
import type { PictureProgress } from './bring-picture';
import { noticeSlice } from '../store/notice-slice';
import { useAppDispatch } from '../store/store';

type Work<T> = (progress: (p: PictureProgress) => void, signal: AbortSignal) => Promise<T>;

/** Runs the bringing of a picture: its progress, a way to stop it, and its failure as a message. */
export function usePictureTask() {
  const dispatch = useAppDispatch();
  const [progress, setProgress] = useState<PictureProgress>();
  const abort = useRef<AbortController>(undefined);

  const run = useCallback(
    async <T>(work: Work<T>): Promise<T | undefined> => {
      abort.current = new AbortController();
      try {
        return await work(setProgress, abort.current.signal);
      } catch (error) {
        if (error instanceof DOMException && error.name === 'AbortError') return undefined;
        const reason = error instanceof ApiFailure ? error.message : 'The picture could not be brought in.';
        dispatch(noticeSlice.actions.add({ text: `${reason} The sheet is as it was.`, tone: 'warning' }));
        return undefined;
      } finally {
        setProgress(undefined);
      }
    },
    [dispatch],
  );
  const stop = useCallback(() => abort.current?.abort(), []);
  return { progress, run, stop };
}
