'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { call } from './api';

/** A site or page to be renamed or deleted. */
export interface Named {
  kind: 'sites' | 'pages';
  id: number;
  name: string;
  action: 'rename' | 'delete';
}

export function NameDialog({ named, onClose }: { named: Named; onClose: () => void }) {
  const [name, setName] = useState(named.name);
  const client = useQueryClient();
  const renaming = named.action === 'rename';
  const change = useMutation({
    mutationFn: () =>
      call(
        `/api/${named.kind}/${named.id}`,
        renaming ? { method: 'PATCH', body: { name } } : { method: 'DELETE' },
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
          {renaming ? `Rename ${named.name}` : `Delete ${named.name}?`}
        </h2>
        {renaming ? (
          <TextField
            label="Name"
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
            {renaming ? 'Rename' : 'Delete'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
