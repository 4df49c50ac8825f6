import fc from 'fast-check';
import {
  broadcastOf,
  contains,
  formatNetwork,
  hostsOf,
  ipNumber,
  ipText,
  maskBits,
  maskText,
  networkOf,
  parseNetwork,
  specialAddress,
} from './index.js';

describe('IPv4', () => {
  it('reads addresses and writes them back', () => {
    fc.assert(fc.property(fc.ipV4(), (text) => ipText(ipNumber(text)!) === text));
    for (const wrong of ['10.40.8', '10.40.8.256', '10.40.8.01', 'ten', '10.40.8.1.1', ''])
      expect(ipNumber(wrong)).withContext(wrong).toBeNull();
  });

  it('reads masks only where their ones are together', () => {
    for (let bits = 0; bits <= 32; bits++) expect(maskBits(maskText(bits))).toBe(bits);
    expect([maskBits('/24'), maskBits('24'), maskBits('255.0.255.0'), maskBits('/33')]).toEqual([24, 24, null, null]);
  });

  it('puts every address between the network’s own and its broadcast', () => {
    fc.assert(
      fc.property(fc.ipV4(), fc.integer({ min: 0, max: 32 }), (text, bits) => {
        const ip = ipNumber(text)!;
        const network = networkOf(ip, bits);
        return contains(network, ip) && network.address <= ip && ip <= broadcastOf(network);
      }),
    );
  });

  it('counts hosts, with /31 and /32 as they are', () => {
    const hosts = (text: string) => {
      const network = parseNetwork(text);
      if (!network.ok) throw new Error(text);
      const { first, last, hosts: count } = hostsOf(network.value);
      return [formatNetwork(network.value), ipText(first), ipText(last), count];
    };
    expect(hosts('10.40.8.77/24')).toEqual(['10.40.8.0/24', '10.40.8.1', '10.40.8.254', 254]);
    expect(hosts('192.168.1.130/26')).toEqual(['192.168.1.128/26', '192.168.1.129', '192.168.1.190', 62]);
    expect(hosts('10.0.0.4/31')).toEqual(['10.0.0.4/31', '10.0.0.4', '10.0.0.5', 2]);
    expect(hosts('10.0.0.4/32')).toEqual(['10.0.0.4/32', '10.0.0.4', '10.0.0.4', 1]);
    expect(specialAddress(networkOf(ipNumber('10.0.0.4')!, 31), ipNumber('10.0.0.4')!)).toBeNull();
    expect(parseNetwork('10.40.8.0').ok).toBeFalse();
  });
});
