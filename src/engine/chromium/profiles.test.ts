import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, utimesSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { expect, it } from 'vitest';
import { newProfile, sweepProfiles } from './profiles.ts';

it('removes what processes left that ended without doing so, and nothing that is in use', async () => {
  const own = await newProfile();
  const ended = spawn('true');
  await once(ended, 'exit');
  const ofEnded = join(tmpdir(), `wistrel-profile-${ended.pid}-aBcDe1`);
  const ofBefore = join(tmpdir(), 'wistrel-profile-aBcDe2');
  const ofToday = join(tmpdir(), 'wistrel-profile-aBcDe3');
  const anothers = join(tmpdir(), 'wistrel-profiles-of-mine');
  for (const folder of [ofEnded, ofBefore, ofToday, anothers])
    mkdirSync(join(folder, 'Default'), { recursive: true });
  const twoDaysAgo = new Date(Date.now() - 2 * 86_400_000);
  utimesSync(ofBefore, twoDaysAgo, twoDaysAgo);

  expect(await sweepProfiles()).toBeGreaterThanOrEqual(2);
  expect([ofEnded, ofBefore, ofToday, anothers, own].filter(existsSync).map((one) => basename(one))).toEqual(
    [ofToday, anothers, own].map((one) => basename(one)),
  );
});
