'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { call } from '../../api';

/** Names the owner of third-party domains; domains of one name are counted together. */
export function OwnerDialog({ domains, onClose }: { domains: string[]; onClose: () => void }) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const save = useMutation({
    mutationFn: () => call('/api/owners', { method: 'PUT', body: { domains, name } }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['page'] });
      onClose();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="owner-title">
      <form onSubmit={submit} style={{ padding: 20, display: 'grid', gap: 12 }} noValidate>
        <h2 id="owner-title" style={{ margin: 0, fontSize: 16 }}>
          Whose is {domains.join(', ')}?
        </h2>
        <TextField
          label="Owner"
          name="owner"
          autoFocus
          value={name}
          onChange={(event) => setName(event.target.value)}
          error={save.isError}
          helperText={
            save.error?.message ??
            'Domains of one owner are counted together, on every page. Left empty, each domain stands for itself.'
          }
        />
        <div className="row" style={{ justifyContent: 'flex-end', margin: 0 }}>
          <Button variant="outlined" onClick={onClose}>
            Cancel
          </Button>
          <Button variant="contained" type="submit" disabled={save.isPending}>
            Keep it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
