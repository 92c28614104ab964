import { acceptCertificate } from '@/store/sites';
import { answer, readBody } from '../answer';
import { ACCEPT } from '../schemas';

/** Remembers a certificate of a server's own making, for its host. */
export const POST = (request: Request) =>
  answer(async (database) => {
    const { host, publicKeyHash } = await readBody(request, ACCEPT);
    await acceptCertificate(database, host, publicKeyHash);
  });
