'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { REST_WORDS, type RestMode } from '@/core/fold/rest-mode';
import type { FoldSettings } from '@/core/fold/settings';
import type { FoldViewport } from '@/core/fold/viewports';

/** Viewports, budget, and how the rest arrives. */
export function FoldSettingsDialog({
  settings,
  error,
  saving,
  onSave,
  onClose,
}: {
  settings: FoldSettings;
  error: string | null;
  saving: boolean;
  onSave: (settings: FoldSettings) => void;
  onClose: () => void;
}) {
  const [viewports, setViewports] = useState(settings.viewports);
  const [kilobytes, setKilobytes] = useState(String(settings.budgetBytes / 1000));
  const [rest, setRest] = useState<RestMode>(settings.rest);
  const submit = () =>
    onSave({ ...settings, viewports, rest, budgetBytes: Math.round(Number(kilobytes) * 1000) });
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        <DialogTitle>How the fold CSS is made</DialogTitle>
        <DialogContent>
          <Viewports viewports={viewports} onChange={setViewports} />
          <div className="row" style={{ marginTop: 18 }}>
            <TextField
              label="Budget for the compressed head, KB"
              value={kilobytes}
              onChange={(event) => setKilobytes(event.target.value)}
              sx={{ width: 260 }}
            />
          </div>
          <RestChoice rest={rest} onChange={setRest} />
          {error ? (
            <p className="note" role="alert">
              {error}
            </p>
          ) : null}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={saving}>
            Save
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

/** Each viewport with its fold, at most six. */
function Viewports({
  viewports,
  onChange,
}: {
  viewports: readonly FoldViewport[];
  onChange: (viewports: FoldViewport[]) => void;
}) {
  const change = (index: number, part: Partial<FoldViewport>) =>
    onChange(viewports.map((one, at) => (at === index ? { ...one, ...part } : one)));
  return (
    <>
      <p style={{ marginTop: 0 }}>Viewports. The widths between them are proved as well.</p>
      {viewports.map((viewport, index) => (
        <div className="row" key={index}>
          <NumberField label="Width" value={viewport.width} onChange={(width) => change(index, { width })} />
          <NumberField
            label="Height"
            value={viewport.height}
            onChange={(height) => change(index, { height, foldHeight: height })}
          />
          <NumberField
            label="Fold at"
            value={viewport.foldHeight ?? viewport.height}
            onChange={(foldHeight) => change(index, { foldHeight })}
          />
          <Button
            disabled={viewports.length === 1}
            onClick={() => onChange(viewports.filter((_one, at) => at !== index))}
            aria-label={`Remove ${viewport.width}×${viewport.height}`}
          >
            Remove
          </Button>
        </div>
      ))}
      <Button
        variant="outlined"
        disabled={viewports.length >= 6}
        onClick={() => onChange([...viewports, { width: 1920, height: 1080 }])}
      >
        Add a viewport
      </Button>
    </>
  );
}

/** What arrives after the fold CSS. */
function RestChoice({ rest, onChange }: { rest: RestMode; onChange: (rest: RestMode) => void }) {
  return (
    <TextField
      select
      fullWidth
      label="After it, late, arrive"
      value={rest}
      onChange={(event) => onChange(event.target.value as RestMode)}
      helperText={
        rest === 'used-only'
          ? 'Riskier: what no measured page or state shows is never loaded. It has its own proof, and falls back to whole stylesheets.'
          : rest === 'less-fold'
            ? 'A rule is taken out only where the cascade is surely the same without it.'
            : 'Safest: every rule is still there in the end.'
      }
    >
      {(Object.keys(REST_WORDS) as RestMode[]).map((mode) => (
        <MenuItem key={mode} value={mode}>
          {REST_WORDS[mode]}
        </MenuItem>
      ))}
    </TextField>
  );
}

function NumberField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange: (value: number) => void;
}) {
  return (
    <TextField
      label={label}
      type="number"
      value={Number.isNaN(value) ? '' : value}
      onChange={(event) => onChange(Number(event.target.value))}
      sx={{ width: 110 }}
    />
  );
}
