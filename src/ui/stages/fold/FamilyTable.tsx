'use client';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import type { FamilyChoice } from '@/core/fold/family';
import { bytes } from '@/core/path/words';
import type { FoldFamilyView } from '@/usecases/fold-view';
import { call } from '../../api';
import { JobButton, type StageProps } from '../../parts/StageFrame';

const WORDS: Record<FamilyChoice, string> = { 'one set': 'One set', 'each its own': 'Each its own' };

/** The family's pages with size, proof and staleness, and the choice between one set and each its own. */
export function FamilyTable({ family, ...props }: StageProps & { family: FoldFamilyView }) {
  const client = useQueryClient();
  const choose = useMutation({
    mutationFn: (choice: FamilyChoice | null) =>
      call(`/api/pages/${props.pageId}/fold-family`, { method: 'PUT', body: { choice } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['page', props.pageId] }),
  });
  const { figures } = family;
  return (
    <>
      <p style={{ margin: '0 0 6px' }}>
        {figures
          ? figures.choice === 'one set'
            ? 'One set serves all pages of the family.'
            : 'Each page of the family has its own set.'
          : 'The family’s sets have not been made together yet.'}{' '}
        {family.choice ? 'You chose so.' : 'One set is recommended where it costs no page much.'}
      </p>
      <div className="row" role="group" aria-label="Sets of the family">
        <JobButton kind="family-fold" label="Generate for the whole family" {...props} primary={!figures} />
        {(['one set', 'each its own'] as const).map((choice) => (
          <Button
            key={choice}
            variant={family.choice === choice ? 'contained' : 'outlined'}
            aria-pressed={family.choice === choice}
            onClick={() => choose.mutate(family.choice === choice ? null : choice)}
          >
            {WORDS[choice]}
          </Button>
        ))}
        {choose.error ? <span role="alert">{choose.error.message}</span> : null}
        {family.choice && figures && family.choice !== figures.choice ? (
          <span className="muted">It holds from the next time the family’s sets are made.</span>
        ) : null}
      </div>
      <div className="sheet">
        <table className="plain">
          <thead>
            <tr>
              <th>Page</th>
              <th className="number">Its own, compressed</th>
              <th className="number">One set, compressed</th>
              <th className="number">Head with it</th>
              <th>Proof</th>
              <th>State</th>
            </tr>
          </thead>
          <tbody>
            {family.pages.map((page) => (
              <PageLine
                key={page.pageId}
                page={page}
                figure={figures?.pages.find((one) => one.name === page.name)}
                conditionsId={props.conditionsId}
              />
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** One page of the family: sizes, proof, and whether its set is current. */
function PageLine({
  page,
  figure,
  conditionsId,
}: {
  page: FoldFamilyView['pages'][number];
  figure: NonNullable<FoldFamilyView['figures']>['pages'][number] | undefined;
  conditionsId: string;
}) {
  return (
    <tr>
      <td>
        <Link prefetch={false} href={`/pages/${page.pageId}/fold?conditions=${conditionsId}`}>
          {page.name}
        </Link>
      </td>
      <td className="number">
        {figure
          ? bytes(figure.ownBytes)
          : page.foldCompressedBytes !== null && !page.shared
            ? bytes(page.foldCompressedBytes)
            : '–'}
      </td>
      <td className="number">{figure ? bytes(figure.oneSetBytes) : '–'}</td>
      <td className="number">{page.headCompressedBytes === null ? '–' : bytes(page.headCompressedBytes)}</td>
      <td>{page.state === 'none' ? 'no set yet' : page.state}</td>
      <td>
        {!page.captured
          ? 'not measured yet'
          : page.changes.length
            ? `out of date: ${page.changes[0]}`
            : page.state === 'none'
              ? '–'
              : 'current'}
      </td>
    </tr>
  );
}
