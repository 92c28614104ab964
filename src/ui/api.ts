'use client';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useSearchParams } from 'next/navigation';
import { DEFAULT_CONDITIONS_ID } from '@/core/measure/conditions';
import type { Job, JobKind } from '@/store/jobs';

/** Asks the application's own routes; an answer that is not ok becomes an Error with its plain sentence. */
export async function call<T>(path: string, init?: { method: string; body?: unknown }): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method: init?.method ?? 'GET',
      ...(init?.body === undefined
        ? {}
        : { body: JSON.stringify(init.body), headers: { 'content-type': 'application/json' } }),
    });
  } catch {
    throw new Error(
      'The application does not answer. Start it again with ./wistrel start; what was stored is kept.',
    );
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

/** The asset that the address speaks of, where it does. */
export function useAssetSpokenOf(): string | null {
  return useSearchParams().get('about');
}

/** Where a page's assets are treated, at what is done to one. */
export function treatmentOf(pageId: number, conditionsId: string, url: string): string {
  return `/pages/${pageId}/treat?conditions=${conditionsId}&about=${encodeURIComponent(url)}`;
}

/** One stage's view of a page. */
export function useStage<T>(pageId: number, view: string, conditionsId: string) {
  return useQuery({
    queryKey: ['page', pageId, view, conditionsId],
    queryFn: () => call<T | null>(`/api/pages/${pageId}/${view}?conditions=${conditionsId}`),
  });
}

/** All jobs, asked every second; what they changed is fetched again when one ends. */
export function useJobs(): Job[] {
  const client = useQueryClient();
  const { data } = useQuery({
    queryKey: ['jobs'],
    queryFn: () => call<Job[]>('/api/jobs'),
    refetchInterval: 1_000,
  });
  const jobs = data ?? [];
  const open = jobs.filter((job) => job.state === 'waiting' || job.state === 'running').map((job) => job.id);
  const before = useRef<number[]>([]);
  const key = open.join(',');
  useEffect(() => {
    const now = key ? key.split(',').map(Number) : [];
    if (before.current.some((id) => !now.includes(id))) {
      // What is not on the screen is forgotten: coming back to it must not show figures of before.
      client.removeQueries({ queryKey: ['page'], type: 'inactive' });
      void client.invalidateQueries({ queryKey: ['page'] });
      void client.invalidateQueries({ queryKey: ['board'] });
    }
    before.current = now;
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
      kind: JobKind;
      pageId: number | null;
      conditionsId: string;
    }) => call<Job>('/api/jobs', { method: 'POST', body: { kind, pageId, conditionsId } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  });
}

/** Puts ended work in the queue again, with all that it was given. */
export function useJobAgain() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: number) => call<Job>(`/api/jobs/${id}`, { method: 'POST', body: {} }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  });
}

/** Queues the same work for many pages, in their order. */
export function useStartJobs() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (jobs: { kind: JobKind; pageIds: number[]; conditionsId: string }) =>
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
