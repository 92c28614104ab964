'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { call } from './api';

/** A site or page to be renamed, deleted or put into a family. */
export interface Named {
  kind: 'sites' | 'pages';
  id: number;
  name: string;
  action: 'rename' | 'delete' | 'family';
  /** The family a page is in; '' for none. */
  family?: string;
}

const TITLES: Record<Named['action'], (name: string) => string> = {
  rename: (name) => `Rename ${name}`,
  delete: (name) => `Delete ${name}?`,
  family: (name) => `Family of ${name}`,
};
const BUTTONS: Record<Named['action'], string> = { rename: 'Rename', delete: 'Delete', family: 'Save' };

export function NameDialog({ named, onClose }: { named: Named; onClose: () => void }) {
  const [name, setName] = useState(named.action === 'family' ? (named.family ?? '') : named.name);
  const client = useQueryClient();
  const renaming = named.action !== 'delete';
  const change = useMutation({
    mutationFn: () =>
      call(
        `/api/${named.kind}/${named.id}`,
        renaming
          ? { method: 'PATCH', body: named.action === 'family' ? { family: name } : { name } }
          : { method: 'DELETE' },
      ),
    onSuccess: async () => {
      await client.invalidateQueries();
      onClose();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    change.mutate();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="name-title">
      <form onSubmit={submit} style={{ padding: 20, display: 'grid', gap: 12 }} noValidate>
        <h2 id="name-title" style={{ margin: 0, fontSize: 16 }}>
          {TITLES[named.action](named.name)}
        </h2>
        {renaming ? (
          <TextField
            label={named.action === 'family' ? 'Family: pages of one template' : 'Name'}
            autoFocus
            value={name}
            onChange={(event) => setName(event.target.value)}
            error={change.isError}
            helperText={change.error?.message}
          />
        ) : (
          <p style={{ margin: 0 }}>
            Its captures, measurements, fold CSS, plan and trials go with it.
            {change.error ? ` ${change.error.message}` : ''}
          </p>
        )}
        <div className="row" style={{ justifyContent: 'flex-end' }}>
          <Button variant="outlined" onClick={onClose}>
            Keep it
          </Button>
          <Button variant="contained" type="submit" disabled={change.isPending}>
            {BUTTONS[named.action]}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
