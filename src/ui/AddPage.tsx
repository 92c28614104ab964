'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { call } from './api';

/** Adds a page by its address; the site is made with its first page. */
export function AddPage({ onClose }: { onClose: () => void }) {
  const [url, setUrl] = useState('');
  const [name, setName] = useState('');
  const client = useQueryClient();
  const add = useMutation({
    mutationFn: () => call('/api/pages', { method: 'POST', body: { url, ...(name.trim() ? { name } : {}) } }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['board'] });
      onClose();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="add-title">
      <form onSubmit={submit} style={{ padding: 20, display: 'grid', gap: 14 }} noValidate>
        <h2 id="add-title" style={{ margin: 0, fontSize: 16 }}>
          Add a page
        </h2>
        <TextField
          label="Address"
          name="url"
          autoFocus
          value={url}
          onChange={(event) => setUrl(event.target.value)}
          placeholder="https://localhost:3000/"
          error={add.isError}
          helperText={add.error?.message ?? 'http or https; your own local server is fine.'}
        />
        <TextField
          label="Name (optional)"
          name="name"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <div className="row" style={{ justifyContent: 'flex-end' }}>
          <Button variant="outlined" onClick={onClose}>
            Cancel
          </Button>
          <Button variant="contained" type="submit" disabled={add.isPending}>
            Add
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
