import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { accessOf } from './access';

const TOKEN = 'f'.repeat(32);
const asked = (path: string, headers: Record<string, string> = {}, method = 'GET') =>
  accessOf(
    new Request(`http://127.0.0.1:4180${path}`, { method, headers: { host: '127.0.0.1:4180', ...headers } }),
  ).is;
const cookie = `other=1; wistrel-4180=${TOKEN}`;

describe('the application', () => {
  beforeEach(() => {
    process.env['WISTREL_TOKEN'] = TOKEN;
  });
  afterEach(() => {
    Reflect.deleteProperty(process.env, 'WISTREL_TOKEN');
  });

  it('is opened by the printed address, and known by its cookie from then on', () => {
    expect(asked(`/?token=${TOKEN}`)).toBe('opened');
    expect(asked('/', { cookie })).toBe('known');
    expect(asked('/api/board', { cookie })).toBe('known');
  });

  it('is closed to whoever has neither, or something like it', () => {
    expect(asked('/')).toBe('unknown');
    expect(asked(`/?token=${TOKEN}0`, { cookie })).toBe('unknown');
    expect(asked('/?token=')).toBe('unknown');
    expect(asked('/', { cookie: `wistrel-4180=${'0'.repeat(32)}` })).toBe('unknown');
    // That of another application of ours on this machine.
    expect(asked('/', { cookie: `wistrel-4181=${TOKEN}` })).toBe('unknown');
    expect(asked(`/api/board?token=${TOKEN}`)).toBe('unknown');
    expect(asked(`/?token=${TOKEN}`, {}, 'POST')).toBe('unknown');
  });

  it('takes changes from its own pages only', () => {
    expect(asked('/api/jobs', { cookie }, 'POST')).toBe('unknown');
    expect(asked('/api/jobs', { cookie, 'x-wistrel': '1' }, 'POST')).toBe('known');
    expect(asked('/api/jobs', { 'x-wistrel': '1' }, 'POST')).toBe('unknown');
  });
});

it('is open where whoever started it gave no token: while it is built', () => {
  expect(asked('/', {}, 'POST')).toBe('known');
});
