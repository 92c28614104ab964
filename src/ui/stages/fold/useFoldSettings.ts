'use client';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { FoldDecision } from '@/core/fold/decisions';
import type { FoldSettings } from '@/core/fold/settings';
import { call } from '../../api';

/** A page's settings for fold CSS: read, and saved at once when they are changed. */
export function useFoldSettings(pageId: number) {
  const client = useQueryClient();
  const query = useQuery({
    queryKey: ['page', pageId, 'fold-settings'],
    queryFn: () => call<FoldSettings>(`/api/pages/${pageId}/fold-settings`),
  });
  const save = useMutation({
    mutationFn: (settings: FoldSettings) =>
      call(`/api/pages/${pageId}/fold-settings`, { method: 'PUT', body: settings }),
    onSettled: () => client.invalidateQueries({ queryKey: ['page', pageId] }),
  });
  const settings = query.data;
  const change = (decisions: FoldDecision[]) => settings && save.mutate({ ...settings, decisions });
  return {
    settings,
    error: query.error ?? save.error,
    save,
    /** Adds a decision; what was said of the same before is taken back. */
    decide(decision: FoldDecision) {
      if (!settings) return;
      const others = settings.decisions.filter((one) => one.by !== decision.by || one.what !== decision.what);
      change([...others, decision]);
    },
    takeBack(decision: FoldDecision) {
      if (settings) change(settings.decisions.filter((one) => one !== decision));
    },
  };
}
