'use client';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from './api';
import { FormDialog } from './parts/FormDialog';

/** A site or page to be renamed, or pages to be put into a family. */
export type Named =
  | { action: 'rename'; kind: 'sites' | 'pages'; id: number; name: string }
  | {
      action: 'family';
      pageIds: readonly number[];
      /** What they are called together: "Home", "3 pages". */
      name: string;
      /** The family they are in; '' for none, or not the same. */
      family: string;
    };

export function NameDialog({ named, onClose }: { named: Named; onClose: () => void }) {
  const isFamily = named.action === 'family';
  const [text, setText] = useState(isFamily ? named.family : named.name);
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: () =>
      isFamily
        ? call('/api/pages/many', { method: 'PATCH', body: { pageIds: named.pageIds, family: text } })
        : call(`/api/${named.kind}/${named.id}`, { method: 'PATCH', body: { name: text } }),
    onSuccess: async () => {
      await client.invalidateQueries();
      onClose();
    },
  });
  return (
    <FormDialog
      title={isFamily ? `Family of ${named.name}` : `Rename ${named.name}`}
      save={isFamily ? 'Save' : 'Rename'}
      disabled={change.isPending}
      back="Keep it"
      onSave={() => change.mutate()}
      onClose={onClose}
    >
      <TextField
        label={isFamily ? 'Family: pages of one template' : 'Name'}
        autoFocus
        value={text}
        onChange={(event) => setText(event.target.value)}
        error={change.isError}
        helperText={change.error?.message}
      />
    </FormDialog>
  );
}
