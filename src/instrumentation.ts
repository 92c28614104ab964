/** Called once when the server starts: opens the database and begins to work on jobs. */
export async function register(): Promise<void> {
  if (process.env['NEXT_RUNTIME'] !== 'nodejs') return;
  const { startApplication } = await import('./usecases/application');
  await startApplication();
}
