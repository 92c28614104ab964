'use client';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { FoldDecision } from '@/core/fold/decisions';
import type { FoldSettings } from '@/core/fold/settings';
import { call } from '../../api';
import { foldSettingsQuestion } from '../../questions';

/** A page's settings for fold CSS: read, and saved at once when they are changed. */
export function useFoldSettings(pageId: number) {
  const client = useQueryClient();
  const { key: queryKey, path } = foldSettingsQuestion(pageId);
  const queryFn = () => call<FoldSettings>(path);
  const query = useQuery({ queryKey, queryFn });
  const save = useMutation({
    mutationFn: (settings: FoldSettings) => call(path, { method: 'PUT', body: settings }),
    // What is decided next is decided over this, not over what was read before it.
    onMutate: (settings) => client.setQueryData(queryKey, settings),
    onSettled: () => client.invalidateQueries({ queryKey: ['page', pageId] }),
  });
  const settings = query.data;
  /** What is pressed before they are there waits for them; where they do not come, the error says why. */
  const change = (decide: (decisions: readonly FoldDecision[]) => FoldDecision[]) => {
    const act = (now: FoldSettings) => save.mutate({ ...now, decisions: decide(now.decisions) });
    if (settings) act(settings);
    else void client.fetchQuery({ queryKey, queryFn }).then(act, () => undefined);
  };
  return {
    settings,
    error: query.error ?? save.error,
    save,
    /** Adds decisions; what was said of the same before is taken back. */
    decide: (...wanted: FoldDecision[]) =>
      change((before) => [
        ...before.filter((one) => !wanted.some((other) => isOfSame(one, other))),
        ...wanted,
      ]),
    takeBack: (decision: FoldDecision) =>
      change((before) => before.filter((one) => !isOfSame(one, decision))),
  };
}

/** Whether two decisions are about the same: of such the last one counts. */
function isOfSame(a: FoldDecision, b: FoldDecision): boolean {
  return a.by === b.by && a.what === b.what;
}
