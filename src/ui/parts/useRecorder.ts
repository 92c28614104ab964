'use client';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { AS_IS } from '@/core/trial/arms';
import { call } from '../api';

/** Longer is no check that anybody recorded. */
const LONGEST_CHECK = 1_000;

/** The window that a check is recorded in, and the only origin that is listened to. */
interface Recording {
  window: Window;
  origin: string;
}

/**
 * Opens the page as it is in a window of its own, in which what is pressed and typed is written down.
 *
 * @param onCheck told each check that its user has done with: "press Menu, see Booking"
 */
export function useRecorder(
  { pageId, conditionsId }: { pageId: number; conditionsId: string },
  onCheck: (check: string) => void,
) {
  const recording = useRef<Recording | null>(null);
  const told = useRef(onCheck);
  useEffect(() => {
    told.current = onCheck;
  });
  useEffect(() => {
    const hear = ({ source, origin, data }: MessageEvent<{ wistrelCheck?: unknown } | null>) => {
      const { current } = recording;
      // The page in that window is anybody's: what it says itself comes from another origin.
      if (!current || source !== current.window || origin !== current.origin) return;
      const check = data?.wistrelCheck;
      if (typeof check === 'string' && check.length <= LONGEST_CHECK && !check.includes('\n'))
        told.current(check);
    };
    addEventListener('message', hear);
    return () => removeEventListener('message', hear);
  }, []);
  return useMutation({
    mutationFn: async (opened: Window | null) => {
      if (!opened)
        throw new Error(
          'Your browser let no window be opened. Allow windows for this address, and record the check again. Nothing was changed.',
        );
      try {
        const { url } = await call<{ url: string }>(`/api/pages/${pageId}/open?conditions=${conditionsId}`, {
          method: 'POST',
          body: { arm: AS_IS, recording: true },
        });
        recording.current = { window: opened, origin: new URL(url).origin };
        opened.location.replace(url);
      } catch (error) {
        opened.close();
        throw error;
      }
    },
  });
}
