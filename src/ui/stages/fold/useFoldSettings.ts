'use client';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { FoldDecision } from '@/core/fold/decisions';
import type { FoldSettings } from '@/core/fold/settings';
import { call } from '../../api';

/** A page's settings for fold CSS: read, and saved at once when they are changed. */
export function useFoldSettings(pageId: number) {
  const client = useQueryClient();
  const queryKey = ['page', pageId, 'fold-settings'];
  const query = useQuery({
    queryKey,
    queryFn: () => call<FoldSettings>(`/api/pages/${pageId}/fold-settings`),
  });
  const save = useMutation({
    mutationFn: (settings: FoldSettings) =>
      call(`/api/pages/${pageId}/fold-settings`, { method: 'PUT', body: settings }),
    // What is decided next is decided over this, not over what was read before it.
    onMutate: (settings) => client.setQueryData(queryKey, settings),
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
      change([...settings.decisions.filter((one) => !isOfSame(one, decision)), decision]);
    },
    takeBack(decision: FoldDecision) {
      if (settings) change(settings.decisions.filter((one) => !isOfSame(one, decision)));
    },
  };
}

/** Whether two decisions are about the same: of such the last one counts. */
function isOfSame(a: FoldDecision, b: FoldDecision): boolean {
  return a.by === b.by && a.what === b.what;
}
