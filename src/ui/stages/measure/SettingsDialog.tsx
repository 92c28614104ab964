'use client';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import type { PageSettings } from '@/store/settings';
import { call } from '../../api';

interface Shown extends PageSettings {
  headerNames: string[];
  cookieNames: string[];
  /** Something was given, and cannot be opened here. */
  areSecretsLost: boolean;
}

/** How a page is measured: runs, return visits, as whom, and what is done on it before. */
export function SettingsDialog({ pageId, onClose }: { pageId: number; onClose: () => void }) {
  const { data, error } = useQuery({
    queryKey: ['settings', pageId],
    queryFn: () => call<Shown>(`/api/pages/${pageId}/settings`),
  });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="settings-title">
      <div style={{ padding: 20 }}>
        <h2 id="settings-title" style={{ margin: '0 0 12px', fontSize: 16 }}>
          How this page is measured
        </h2>
        {error ? <p role="alert">{error.message}</p> : null}
        {data ? <SettingsForm pageId={pageId} shown={data} onClose={onClose} /> : null}
      </div>
    </Dialog>
  );
}

function SettingsForm({ pageId, shown, onClose }: { pageId: number; shown: Shown; onClose: () => void }) {
  const client = useQueryClient();
  const [runs, setRuns] = useState(String(shown.runs));
  const [returnVisits, setReturnVisits] = useState(shown.returnVisits);
  const [ownClock, setOwnClock] = useState(shown.ownClock);
  const [steps, setSteps] = useState(shown.steps);
  const kept = [...shown.headerNames, ...shown.cookieNames];
  const [changing, setChanging] = useState(kept.length === 0);
  const [headers, setHeaders] = useState('');
  const [cookies, setCookies] = useState('');
  const save = useMutation({
    mutationFn: () =>
      call(`/api/pages/${pageId}/settings`, {
        method: 'PUT',
        body: {
          runs: Number(runs),
          returnVisits,
          ownClock,
          steps,
          ...(changing
            ? { secrets: { headers: readPairs(headers, ':'), cookies: readCookies(cookies) } }
            : {}),
        },
      }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['settings', pageId] });
      onClose();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <form onSubmit={submit} style={{ display: 'grid', gap: 12 }} noValidate>
      <TextField
        label="Runs"
        name="runs"
        value={runs}
        onChange={(event) => setRuns(event.target.value)}
        helperText="Three give a median; more narrow the spread."
      />
      <FormControlLabel
        control={<Checkbox checked={returnVisits} onChange={(_e, on) => setReturnVisits(on)} />}
        label="Measure a return visit too: a second load with what the first one cached"
      />
      <FormControlLabel
        control={<Checkbox checked={ownClock} onChange={(_e, on) => setOwnClock(on)} />}
        label="Give scripts a fixed clock and a seeded chance, so that replay asks for the same addresses"
      />
      <TextField
        label="Steps before the capture, one a line"
        name="steps"
        multiline
        minRows={2}
        value={steps}
        onChange={(event) => setSteps(event.target.value)}
        placeholder={'press .accept\nuntil #menu\npause 500'}
      />
      {shown.areSecretsLost ? (
        <p className="note" role="alert" style={{ margin: 0 }}>
          What you gave to be signed in with cannot be read here: its keys are not in a backup. Give it again,
          or save without it to measure as any visitor.
        </p>
      ) : null}
      {changing ? (
        <SignedInFields headers={headers} cookies={cookies} onHeaders={setHeaders} onCookies={setCookies} />
      ) : (
        <div className="row">
          <span>Signed in with {kept.map((name) => `${name} (●●●●)`).join(', ')}</span>
          <Button variant="outlined" onClick={() => setChanging(true)}>
            Change or clear
          </Button>
        </div>
      )}
      <SaveOrCancel error={save.error} saving={save.isPending} onClose={onClose} />
    </form>
  );
}

function SaveOrCancel({
  error,
  saving,
  onClose,
}: {
  error: Error | null;
  saving: boolean;
  onClose: () => void;
}) {
  return (
    <>
      {error ? (
        <p className="note" role="alert" style={{ margin: 0 }}>
          {error.message}
        </p>
      ) : null}
      <div className="row" style={{ justifyContent: 'flex-end', margin: 0 }}>
        <Button variant="outlined" onClick={onClose}>
          Cancel
        </Button>
        <Button variant="contained" type="submit" disabled={saving}>
          Save
        </Button>
      </div>
    </>
  );
}

/** As whom a page is asked for. */
function SignedInFields({
  headers,
  cookies,
  onHeaders,
  onCookies,
}: {
  headers: string;
  cookies: string;
  onHeaders: (headers: string) => void;
  onCookies: (cookies: string) => void;
}) {
  return (
    <>
      <TextField
        label="Headers, for the page’s own origin only"
        name="headers"
        multiline
        minRows={2}
        value={headers}
        onChange={(event) => onHeaders(event.target.value)}
        placeholder="Authorization: Bearer …"
      />
      <TextField
        label="Cookies to be signed in with"
        name="cookies"
        multiline
        minRows={2}
        value={cookies}
        onChange={(event) => onCookies(event.target.value)}
        placeholder="session=…"
        helperText="Kept on this machine, apart from the captures; never shown again and never written to an export."
      />
    </>
  );
}

/** "Name: value" a line, as pairs. */
function readPairs(text: string, mark: string): [string, string][] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .map((line) => {
      const at = line.indexOf(mark);
      return at < 0 ? [line, ''] : [line.slice(0, at).trim(), line.slice(at + 1).trim()];
    });
}

/** Cookies as a browser shows them: "a=1; b=2", or one a line. */
function readCookies(text: string): { name: string; value: string }[] {
  return readPairs(text.replaceAll(';', '\n'), '=').map(([name, value]) => ({ name, value }));
}
