import type { SourceAddress } from '#features/shelf/model/sourceAddress';
import { openHttp } from './httpLink';
import type { Link, LinkTerms } from './link';
import { openModbus } from './modbusLink';
import { openMqtt } from './mqttLink';
import { openScpi } from './scpiLink';
import { openSerial } from './serialLink';

/** An address to which a way is opened. */
export type LinkedAddress = Exclude<SourceAddress, { kind: 'file' | 'push' }>;

export const isLinked = (address: SourceAddress): address is LinkedAddress => address.kind !== 'file' && address.kind !== 'push';

/**
 * Opens the way to an instrument, whatever it is.
 * @param period_ms time between two readings; what comes one by one within it is one reading
 * @throws LinkFailure
 */
export function openLink(address: LinkedAddress, terms: LinkTerms, period_ms: number): Promise<Link> {
  switch (address.kind) {
    case 'scpi':
      return openScpi(address, terms);
    case 'modbus':
      return openModbus(address, terms);
    case 'http':
      return openHttp(address, terms);
    case 'mqtt':
      return openMqtt(address, terms, period_ms);
    case 'serial':
      return openSerial(address, terms, period_ms);
  }
}
