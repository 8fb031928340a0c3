import { reachable } from '../reachable';
import { LinkFailure } from './link';

/**
 * The address at which a host is reached.
 * @throws LinkFailure where it is not known, or lies outside the networks of instruments
 */
export async function reachedAddress(host: string, port: number): Promise<string> {
  const where = await reachable(host, port);
  if ('problem' in where) throw new LinkFailure('unreachable', where.problem);
  return where.address;
}

/** Why a connection to a host failed, in a sentence. */
export const unreachable = (host: string, port: number, code: string | undefined): LinkFailure =>
  new LinkFailure(
    'unreachable',
    code === 'ECONNREFUSED'
      ? `Nothing listens at ${host}:${port}.`
      : code === 'ETIMEDOUT' || code === undefined
        ? `${host}:${port} does not answer.`
        : `${host}:${port} cannot be reached (${code}).`,
  );
