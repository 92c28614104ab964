import { acceptCertificate } from '@/store/sites';
import { answer, readBody } from '../answer';
import { ACCEPT } from '../schemas';

/** Remembers a certificate of a server's own making, for the hosts that showed it. */
export const POST = (request: Request) =>
  answer(async (database) => {
    const { hosts, publicKeyHash } = await readBody(request, ACCEPT);
    await acceptCertificate(database, hosts, publicKeyHash);
  });
