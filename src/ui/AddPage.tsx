'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { call, useConditionsId } from './api';
import { AddFound, AddHar, AddList } from './board/AddPages';

const WAYS = ['One page', 'A list', 'Sitemap or links', 'HAR file'] as const;

/** Adds pages: one by its address, a list, what a site links to, or a HAR file. */
export function AddPage({ onClose }: { onClose: () => void }) {
  const [way, setWay] = useState(0);
  const conditionsId = useConditionsId();
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="add-title">
      <div style={{ padding: 20, display: 'grid', gap: 14 }}>
        <h2 id="add-title" style={{ margin: 0, fontSize: 16 }}>
          Add pages
        </h2>
        <Tabs value={way} onChange={(_event, next: number) => setWay(next)} aria-label="How">
          {WAYS.map((name) => (
            <Tab key={name} label={name} />
          ))}
        </Tabs>
        {way === 0 ? <AddOne onDone={onClose} /> : null}
        {way === 1 ? <AddList onDone={onClose} /> : null}
        {way === 2 ? <AddFound onDone={onClose} /> : null}
        {way === 3 ? <AddHar conditionsId={conditionsId} onDone={onClose} /> : null}
      </div>
    </Dialog>
  );
}

function AddOne({ onDone }: { onDone: () => void }) {
  const [url, setUrl] = useState('');
  const [name, setName] = useState('');
  const client = useQueryClient();
  const add = useMutation({
    mutationFn: () => call('/api/pages', { method: 'POST', body: { url, ...(name.trim() ? { name } : {}) } }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['board'] });
      onDone();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate();
  };
  return (
    <form onSubmit={submit} style={{ display: 'grid', gap: 14 }} noValidate>
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
      <div className="row" style={{ justifyContent: 'flex-end', margin: 0 }}>
        <Button variant="outlined" onClick={onDone}>
          Cancel
        </Button>
        <Button variant="contained" type="submit" disabled={add.isPending}>
          Add
        </Button>
      </div>
    </form>
  );
}
