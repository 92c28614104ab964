'use client';
import { Component, Suspense, useEffect, useState, useSyncExternalStore, type ReactNode } from 'react';

/**
 * What opens on a press, and whose script is loaded then. What is typed until it is there goes into a field of its own,
 * so that no key does anything else meanwhile; when it closes, what had the focus before has it again.
 *
 * @param onTyped told what was typed
 */
export function Later({ onTyped, children }: { onTyped?: (text: string) => void; children: ReactNode }) {
  const [before] = useState(() => document.activeElement);
  useEffect(
    () => () => {
      // What the press was on may be gone, and somebody else may have the focus by now.
      if (document.activeElement === document.body && before instanceof HTMLElement) before.focus();
    },
    [before],
  );
  return (
    <UnlessItFails
      instead={
        <p className="note" role="alert">
          This part of the screen could not be loaded: Wistrel may have been started anew since. What is
          stored is kept.{' '}
          <button type="button" className="key" onClick={() => location.reload()}>
            Load the screen again
          </button>
        </p>
      }
    >
      <Suspense
        fallback={
          <input
            autoFocus
            className="until-there"
            aria-label="Opening"
            onChange={(event) => onTyped?.(event.target.value)}
          />
        }
      >
        {children}
      </Suspense>
    </UnlessItFails>
  );
}

/**
 * What is loaded once the screen works, and another thing until then, and where it cannot be loaded.
 *
 * @example
 * <OnceThere until={<pre>{text}</pre>}><CodeEditor text={text} /></OnceThere>
 */
export function OnceThere({ until = null, children }: { until?: ReactNode; children: ReactNode }) {
  const hasScript = useHasScript();
  if (!hasScript) return until;
  return (
    <UnlessItFails instead={until}>
      <Suspense fallback={until}>{children}</Suspense>
    </UnlessItFails>
  );
}

/** Shows something else in the place of what fails; what failed, the browser's console says. */
class UnlessItFails extends Component<{ instead: ReactNode; children: ReactNode }, { hasFailed: boolean }> {
  override state = { hasFailed: false };

  static getDerivedStateFromError() {
    return { hasFailed: true };
  }

  override render() {
    return this.state.hasFailed ? this.props.instead : this.props.children;
  }
}

/** Whether the screen's script runs: what it loads after the screen is not in the HTML. */
function useHasScript(): boolean {
  return useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
}

const never = () => () => undefined;
