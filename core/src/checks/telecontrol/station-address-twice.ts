import { defineCheck, fixOf, onPort } from '../../findings/index.js';

export const stationAddressTwice = defineCheck({
  id: 'station-address-twice',
  severity: 'stop',
  scope: 'telecontrol',
  doubts: true,
  meaning: 'Two stations of a telecontrol line have the same address.',
  find: ({ line, members }) => {
    const known = new Map<number, string>();
    const taken = new Set(members.map(({ port }) => port.address));
    return members.flatMap((member) => {
      const { name, port } = member;
      // The control station of IEC 60870-5-104 has no address that is sent.
      if (line.standard !== 'ieee1815' && port.role === 'asks') return [];
      const other = known.get(port.address);
      known.set(port.address, other ?? name);
      if (other === undefined) return [];
      const free = Array.from({ length: taken.size + 1 }, (_, index) => index + 1).find((address) => !taken.has(address))!;
      return {
        message: `${other} and ${name} both have the address ${port.address} on ${line.name}: what one of them sends is taken for the other’s.`,
        mend: 'Give one of them another address, here and on the device.',
        fix: fixOf(`Give ${name} the address ${free}`, 'port', port, { address: free }),
        at: onPort(member, 'address'),
      };
    });
  },
});
