import Link from 'next/link';

export default function NotFound() {
  return (
    <main className="screen empty">
      <h1>There is nothing at this address.</h1>
      <p>
        The page may have been deleted.{' '}
        <Link prefetch={false} href="/">
          Go to the page board
        </Link>
        .
      </p>
    </main>
  );
}
