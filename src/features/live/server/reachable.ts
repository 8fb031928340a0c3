import { lookup } from 'node:dns/promises';
import { BlockList, isIPv6 } from 'node:net';
import { serversOf } from '#app/database/servers';

/** Networks in which instruments are reached: this machine and private ones (RFC 1918, RFC 3927, RFC 4193, RFC 4291). */
const NETWORKS = [
  ...['127.0.0.0/8', '10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16', '169.254.0.0/16'],
  ...['::1/128', 'fc00::/7', 'fe80::/10'],
];

/** The networks, with those that WARM_GAUGE_INSTRUMENTS names, divided by commas. */
function networks(): BlockList {
  const list = new BlockList();
  for (const network of [...NETWORKS, ...(process.env.WARM_GAUGE_INSTRUMENTS ?? '').split(',').filter(Boolean)]) {
    const [address, bits] = network.trim().split('/');
    list.addSubnet(address, Number(bits), isIPv6(address) ? 'ipv6' : 'ipv4');
  }
  return list;
}

/** Ports of this machine that are the application's own and its store's: what is sent there would be taken for something else. */
const ownPorts = (): number[] => [
  Number(process.env.PORT ?? 4310),
  ...[process.env.DATABASE_URL, process.env.DATABASE_READ_URL].flatMap((url) =>
    url ? serversOf(url).map((server) => Number(/:(\d+)(?:[/?]|$)/.exec(server.replace(/^.*@/, ''))?.[1] ?? 5432)) : [],
  ),
];

/**
 * The address at which an instrument is reached, found once, so that a name cannot lead elsewhere afterwards.
 * @returns the address, or why it is not reached
 */
export async function reachable(host: string, port: number): Promise<{ address: string } | { problem: string }> {
  const found = await lookup(host, { all: true }).catch(() => []);
  if (found.length === 0) return { problem: `${host} is not known on this network.` };
  const known = networks();
  const allowed = found.find(({ address, family }) => known.check(address, family === 6 ? 'ipv6' : 'ipv4'));
  if (!allowed)
    return {
      problem: `${host} is ${found[0].address}, which is neither this machine nor a private network. WARM_GAUGE_INSTRUMENTS may name the network of your instruments, such as 203.0.113.0/24.`,
    };
  if (ownPorts().includes(port) && isThisMachine(allowed.address))
    return { problem: `${host}:${port} is a port of Warm Gauge itself or of its store, not of an instrument.` };
  return { address: allowed.address };
}

const isThisMachine = (address: string): boolean => address === '::1' || address.startsWith('127.');
