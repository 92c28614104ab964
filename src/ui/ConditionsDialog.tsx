'use client';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { CONDITIONS_LIMITS, type Conditions } from '@/core/measure/conditions';
import { call } from './api';

type NumberField = 'width' | 'height' | 'pixelRatio' | 'cpuSlowdown' | 'roundTripMs' | 'downKbps' | 'upKbps';

const FIELDS: readonly [NumberField, string][] = [
  ['width', 'Viewport width, CSS px'],
  ['height', 'Viewport height, CSS px'],
  ['pixelRatio', 'Pixel ratio'],
  ['cpuSlowdown', 'CPU slowed by'],
  ['roundTripMs', 'Round trip, ms'],
  ['downKbps', 'Down, kbps'],
  ['upKbps', 'Up, kbps'],
];

/** Conditions as they stand in the fields. */
interface Draft extends Pick<Conditions, 'name' | 'touch' | 'agent' | 'protocol'> {
  numbers: Record<NumberField, string>;
}

function draftOf(start: Conditions, isNew: boolean): Draft {
  return {
    name: isNew ? `${start.name}, my own` : start.name,
    numbers: {
      width: String(start.viewport.width),
      height: String(start.viewport.height),
      pixelRatio: String(start.pixelRatio),
      cpuSlowdown: String(start.cpuSlowdown),
      roundTripMs: String(start.roundTripMs),
      downKbps: String(start.downKbps),
      upKbps: String(start.upKbps),
    },
    touch: start.touch,
    agent: start.agent,
    protocol: start.protocol,
  };
}

/** What a draft is sent as; figures that are none are refused in words. */
function conditionsOf({ name, numbers, touch, agent, protocol }: Draft, id: string): Conditions {
  const value = (field: NumberField) => Number(numbers[field]);
  return {
    id,
    name,
    viewport: { width: value('width'), height: value('height') },
    pixelRatio: value('pixelRatio'),
    touch,
    agent,
    cpuSlowdown: value('cpuSlowdown'),
    roundTripMs: value('roundTripMs'),
    downKbps: value('downKbps'),
    upKbps: value('upKbps'),
    protocol,
  };
}

/** Keeps a draft, or deletes the conditions it began with. */
function useSavedConditions(draft: Draft, startId: string, isNew: boolean, onSaved: (id: string) => void) {
  const client = useQueryClient();
  const goTo = async (id: string) => {
    await client.invalidateQueries({ queryKey: ['conditions'] });
    onSaved(id);
  };
  const save = useMutation({
    mutationFn: () =>
      call<Conditions>('/api/conditions', {
        method: 'PUT',
        body: conditionsOf(draft, isNew ? idFrom(draft.name) : startId),
      }),
    onSuccess: ({ id }) => goTo(id),
  });
  const remove = useMutation({
    mutationFn: () => call(`/api/conditions/${startId}`, { method: 'DELETE' }),
    onSuccess: () => goTo('slow-phone'),
  });
  return { save, remove };
}

/** Edits conditions of the user's own; a built-in one is copied first. */
export function ConditionsDialog({
  start,
  isNew,
  onClose,
  onSaved,
}: {
  start: Conditions;
  isNew: boolean;
  onClose: () => void;
  onSaved: (id: string) => void;
}) {
  const [draft, setDraft] = useState(() => draftOf(start, isNew));
  const change = (part: Partial<Draft>) => setDraft((now) => ({ ...now, ...part }));
  const { save, remove } = useSavedConditions(draft, start.id, isNew, onSaved);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="conditions-title">
      <form onSubmit={submit} style={{ padding: 20, display: 'grid', gap: 12 }} noValidate>
        <h2 id="conditions-title" style={{ margin: 0, fontSize: 16 }}>
          {isNew ? 'New conditions' : `Edit ${start.name}`}
        </h2>
        {isNew ? null : (
          <p className="muted" style={{ margin: 0 }}>
            What was measured before keeps the conditions it was measured under.
          </p>
        )}
        <TextField
          label="Name"
          name="conditions-name"
          autoFocus
          value={draft.name}
          onChange={(event) => change({ name: event.target.value })}
        />
        <DraftFields draft={draft} onChange={change} />
        <FormControlLabel
          control={<Checkbox checked={draft.touch} onChange={(_e, touch) => change({ touch })} />}
          label="Touch"
        />
        <p className="muted" style={{ margin: 0 }}>
          Rates go up to {CONDITIONS_LIMITS.kbps.most.toLocaleString('en-GB')} kbps. How well they hold on a
          machine is measured by npm run bench.
        </p>
        {save.error || remove.error ? (
          <p className="note" role="alert" style={{ margin: 0 }}>
            {(save.error ?? remove.error)!.message}
          </p>
        ) : null}
        <div className="row" style={{ justifyContent: 'flex-end', margin: 0 }}>
          {isNew ? null : (
            <Button variant="outlined" onClick={() => remove.mutate()}>
              Delete them
            </Button>
          )}
          <span style={{ flex: 1 }} />
          <Button variant="outlined" onClick={onClose}>
            Cancel
          </Button>
          <Button variant="contained" type="submit" disabled={save.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

function DraftFields({ draft, onChange }: { draft: Draft; onChange: (part: Partial<Draft>) => void }) {
  const { numbers, agent, protocol } = draft;
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 12 }}>
      {FIELDS.map(([field, label]) => (
        <TextField
          key={field}
          label={label}
          name={field}
          value={numbers[field]}
          onChange={(event) => onChange({ numbers: { ...numbers, [field]: event.target.value } })}
        />
      ))}
      <TextField
        select
        label="User agent"
        value={agent}
        onChange={(event) => onChange({ agent: event.target.value as Conditions['agent'] })}
      >
        <MenuItem value="phone">a phone’s</MenuItem>
        <MenuItem value="desktop">a desktop’s</MenuItem>
      </TextField>
      <TextField
        select
        label="Plain HTTP pages are replayed"
        value={protocol}
        onChange={(event) => onChange({ protocol: event.target.value as Conditions['protocol'] })}
      >
        <MenuItem value="as-captured">as captured</MenuItem>
        <MenuItem value="production">as in production: HTTPS, HTTP/2</MenuItem>
      </TextField>
    </div>
  );
}

/** A name as an id: "Ferry Wi-Fi" becomes "ferry-wi-fi". */
function idFrom(name: string): string {
  return (
    name
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 60) || 'conditions'
  );
}
