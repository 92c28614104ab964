// @vitest-environment jsdom
import { act, cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { lazy, useState } from 'react';
import { afterEach, expect, it, vi } from 'vitest';
import { useKey } from '@/ui/keyboard';
import { Later, OnceThere } from '@/ui/parts/Later';

afterEach(cleanup);

/** A screen with a key of its own, and a part that comes when it is told to. */
function made() {
  let arrive!: () => void;
  const Part = lazy(
    () =>
      new Promise<{ default: (props: { typed: string; onClose: () => void }) => React.ReactNode }>(
        (resolve) => {
          arrive = () =>
            resolve({
              default: ({ typed, onClose }) => (
                <div role="dialog">
                  <input autoFocus aria-label="Find" defaultValue={typed} />
                  <button type="button" onClick={onClose}>
                    Close
                  </button>
                </div>
              ),
            });
        },
      ),
  );
  const onMeasure = vi.fn();
  function Screen() {
    const [open, setOpen] = useState(false);
    const [typed, setTyped] = useState('');
    useKey('m', onMeasure);
    return (
      <>
        <button type="button" onClick={() => setOpen(true)}>
          Open
        </button>
        {open ? (
          <Later onTyped={setTyped}>
            <Part typed={typed} onClose={() => setOpen(false)} />
          </Later>
        ) : null}
      </>
    );
  }
  render(<Screen />);
  return { onMeasure, arrive: () => act(async () => arrive()) };
}

it('keeps what is typed until it is there, and no key does anything else meanwhile', async () => {
  const user = userEvent.setup();
  const { onMeasure, arrive } = made();
  await user.keyboard('m');
  expect(onMeasure).toHaveBeenCalledTimes(1);
  await user.click(screen.getByRole('button', { name: 'Open' }));
  await user.keyboard('map');
  expect(onMeasure).toHaveBeenCalledTimes(1);
  await arrive();
  expect(screen.getByRole('textbox', { name: 'Find' })).toHaveProperty('value', 'map');
  expect(document.activeElement).toBe(screen.getByRole('textbox', { name: 'Find' }));
});

it('gives the focus back to what was pressed when it closes', async () => {
  const user = userEvent.setup();
  const { arrive } = made();
  const opener = screen.getByRole('button', { name: 'Open' });
  await user.click(opener);
  await arrive();
  await user.click(screen.getByRole('button', { name: 'Close' }));
  expect(screen.queryByRole('dialog')).toBeNull();
  expect(document.activeElement).toBe(opener);
});

it('says so where it cannot be loaded, and the screen stays', async () => {
  const quiet = vi.spyOn(console, 'error').mockImplementation(() => undefined);
  const Part = lazy(() => Promise.reject<{ default: () => null }>(new Error('no such file')));
  render(
    <>
      <h1>Pages</h1>
      <Later>
        <Part />
      </Later>
      <OnceThere until={<pre>as it is</pre>}>
        <Part />
      </OnceThere>
    </>,
  );
  expect((await screen.findByRole('alert')).textContent).toMatch(
    /could not be loaded.*Load the screen again/,
  );
  expect(screen.getByRole('heading', { name: 'Pages' })).toBeTruthy();
  expect(await screen.findByText('as it is')).toBeTruthy();
  quiet.mockRestore();
});
