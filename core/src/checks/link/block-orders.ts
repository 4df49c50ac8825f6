import { defineCheck, listed } from '../../findings/index.js';

export const blockOrders = defineCheck({
  id: 'block-orders',
  severity: 'warning',
  scope: 'link',
  meaning: 'Values of a cyclic block have their bytes in different orders.',
  find: ({ link: { points, stationName } }) => {
    const long = points.filter(({ place }) => place.kind === 'cyclic' && place.bits > 8);
    const [little, big] = (['little', 'big'] as const).map((order) =>
      long.filter(({ place }) => place.kind === 'cyclic' && place.order === order),
    ) as [typeof long, typeof long];
    const odd = little.length < big.length ? little : big;
    if (odd.length === 0 || little.length === big.length) return [];
    const [own, other] = odd === little ? ['little', 'big'] : ['big', 'little'];
    return [
      {
        message: `${stationName}: ${listed(odd.map(({ name }) => name))} ${odd.length === 1 ? 'is' : 'are'} ${own}-endian, and the other values of the link are ${other}-endian.`,
        mend: 'Most stations have one order for all; look whether the papers really say so.',
        about: odd.slice(1).map(({ id }) => id),
        at: { entity: 'point' as const, id: odd[0]!.id, field: 'place' },
      },
    ];
  },
});
