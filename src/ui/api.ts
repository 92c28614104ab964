'use client';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useSearchParams } from 'next/navigation';
import { OWN_HEADER } from '@/own-header';
import { DEFAULT_CONDITIONS_ID } from '@/core/measure/conditions';
import type { VisitKind } from '@/core/measure/visit';
import type { JobView } from '@/usecases/jobs';
import { JOBS, stageQuestion, type Question } from './questions';

/** Said where it does not answer at all. */
export const CALL_FAILED =
  'The application does not answer. Start it again with ./wistrel start; what was stored is kept.';

/** Asks the application's own routes; an answer that is not ok becomes an Error with its plain sentence. */
export async function call<T>(
  path: string,
  init?: { method: string; body?: unknown; keepalive?: true },
): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method: init?.method ?? 'GET',
      ...(init?.keepalive ? { keepalive: true } : {}),
      ...(init?.body === undefined ? {} : { body: JSON.stringify(init.body) }),
      headers: {
        [OWN_HEADER]: '1',
        ...(init?.body === undefined ? {} : { 'content-type': 'application/json' }),
      },
    });
  } catch {
    throw new Error(CALL_FAILED);
  }
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok)
    throw new Error(
      (body as { error?: string } | null)?.error ?? `The application answered ${response.status}.`,
    );
  return body as T;
}

/** The conditions chosen in the address. */
export function useConditionsId(): string {
  return useSearchParams().get('conditions') ?? DEFAULT_CONDITIONS_ID;
}

/** The visit that the address speaks of: the first where it names none. */
export function useVisit(): VisitKind {
  return useSearchParams().get('visit') === 'return' ? 'return' : 'first';
}

/** The asset that the address speaks of, where it does. */
export function useAssetSpokenOf(): string | null {
  return useSearchParams().get('about');
}

/** Where a page's assets are treated, at what is done to one. */
export function treatmentOf(pageId: number, conditionsId: string, url: string): string {
  return `/pages/${pageId}/treat?conditions=${conditionsId}&about=${encodeURIComponent(url)}`;
}

/** The answer to a question, asked again when it may be another. */
export function useAnswer<T>({ key, path }: Question) {
  return useQuery({ queryKey: key, queryFn: () => call<T>(path) });
}

/** One stage's view of a page. */
export function useStage<T>(pageId: number, view: string, conditionsId: string) {
  return useAnswer<T | null>(stageQuestion(pageId, view, conditionsId));
}

const isOpen = (job: JobView) => job.state === 'waiting' || job.state === 'running';

/** All jobs, as `JobStream` keeps them; what they changed is fetched again when one ends. */
export function useJobs(): JobView[] {
  const client = useQueryClient();
  const { data } = useAnswer<JobView[]>(JOBS);
  const jobs = data ?? [];
  const before = useRef<number[]>([]);
  const key = jobs
    .filter(isOpen)
    .map((job) => job.id)
    .join(',');
  useEffect(() => {
    const now = key ? key.split(',').map(Number) : [];
    const ended = before.current.filter((id) => !now.includes(id));
    before.current = now;
    for (const id of ended) {
      const job = jobs.find((one) => one.id === id);
      if (job?.refreshes === 'nothing') continue;
      const its = job?.refreshes === 'its page' ? ['page', job.pageId] : ['page'];
      // What is not on the screen is forgotten: coming back to it must not show figures of before.
      client.removeQueries({ queryKey: its, type: 'inactive' });
      void client.invalidateQueries({ queryKey: its });
      void client.invalidateQueries({ queryKey: ['board'] });
    }
    // Only that a job ends matters, not its steps.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, client]);
  return jobs;
}

/** Starts a job. */
export function useStartJob() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({
      kind,
      pageId,
      conditionsId,
    }: {
      kind: string;
      pageId: number | null;
      conditionsId: string;
    }) => call<JobView>('/api/jobs', { method: 'POST', body: { kind, pageId, conditionsId } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  });
}

/** Puts ended work in the queue again, with all that it was given. */
export function useJobAgain() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: number) => call<JobView>(`/api/jobs/${id}`, { method: 'POST', body: {} }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  });
}

/** Queues the same work for many pages, in their order. */
export function useStartJobs() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (jobs: { kind: string; pageIds: number[]; conditionsId: string }) =>
      call('/api/jobs/many', { method: 'POST', body: jobs }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  });
}

export function useCancelJob() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: number) => call(`/api/jobs/${id}`, { method: 'DELETE' }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  });
}
