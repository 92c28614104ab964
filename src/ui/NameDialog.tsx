'use client';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from './api';
import { FormDialog } from './parts/FormDialog';

/** A site or page to be renamed or put into a family. */
export interface Named {
  kind: 'sites' | 'pages';
  id: number;
  name: string;
  action: 'rename' | 'family';
  /** The family a page is in; '' for none. */
  family?: string;
}

const TITLES: Record<Named['action'], (name: string) => string> = {
  rename: (name) => `Rename ${name}`,
  family: (name) => `Family of ${name}`,
};
const BUTTONS: Record<Named['action'], string> = { rename: 'Rename', family: 'Save' };

export function NameDialog({ named, onClose }: { named: Named; onClose: () => void }) {
  const [name, setName] = useState(named.action === 'family' ? (named.family ?? '') : named.name);
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: () =>
      call(`/api/${named.kind}/${named.id}`, {
        method: 'PATCH',
        body: named.action === 'family' ? { family: name } : { name },
      }),
    onSuccess: async () => {
      await client.invalidateQueries();
      onClose();
    },
  });
  return (
    <FormDialog
      title={TITLES[named.action](named.name)}
      save={BUTTONS[named.action]}
      disabled={change.isPending}
      back="Keep it"
      onSave={() => change.mutate()}
      onClose={onClose}
    >
      <TextField
        label={named.action === 'family' ? 'Family: pages of one template' : 'Name'}
        autoFocus
        value={name}
        onChange={(event) => setName(event.target.value)}
        error={change.isError}
        helperText={change.error?.message}
      />
    </FormDialog>
  );
}
