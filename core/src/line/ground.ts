/** A device as the earths see it. */
export interface EarthedDevice {
  name: string;
  /** Along the cable. */
  atM: number;
  /** Its local earth against the plant's main earth. */
  earthV: number;
  earthOhm?: number;
  shieldGrounded: boolean;
  reference: 'none' | 'direct' | 'resistance';
  /** Isolated devices join neither the reference conductor nor a receiver's ground to their earth. */
  isolated: boolean;
}

export interface EarthedCable {
  /** null where there is no shield. */
  shieldOhmPerKm: number | null;
  /** null where there is no reference conductor. */
  referenceOhmPerKm: number | null;
  devices: readonly EarthedDevice[];
}

export interface GroundLoop {
  conductor: 'shield' | 'reference conductor';
  /** Two neighbouring devices at which the conductor meets earth. */
  between: [string, string];
  /** What drives it: the difference of the two earths. */
  volts: number;
  /** All resistances around the loop: the stretch, the two joints and the two earths. */
  ohm: number;
  /** What flows in the stretch between them; null where nothing limits it. */
  currentA: number | null;
}

export interface GroundResult {
  loops: GroundLoop[];
  /** The largest difference between the earths of two devices whose receivers are not isolated. */
  commonMode: { between: [string, string]; volts: number } | null;
  /** Whether that stays within what RS-485 receivers stand: −7 to +12 V, so 7 V where either may send (TIA-485-A). */
  withinRange: boolean;
}

/** Through which an earthed point is joined where differing earths are expected. */
const REFERENCE_OHM = 100;
const RECEIVER_V = 7;
/** Keeps a joint of no resistance solvable; so little changes no figure that is shown. */
const LEAST_OHM = 1e-8;

type Kind = 'earth' | 'shield' | 'reference';

interface Edge {
  from: number;
  to: number;
  ohm: number;
  /** Rise of potential from `from` to `to`. */
  volts: number;
  kind: Kind;
  /** The device at which a conductor meets earth; null for everything else. */
  joint: number | null;
}

/**
 * The ground loops of a cable: a conductor that meets earth in several places closes one in each stretch between two neighbouring
 * joints. The currents are those of the whole network, by nodal analysis: what flows in one stretch depends on all others.
 */
export function groundLoops({ shieldOhmPerKm, referenceOhmPerKm, devices }: EarthedCable): GroundResult {
  const ordered = [...devices].sort((a, b) => a.atM - b.atM);
  const edges = network(ordered, shieldOhmPerKm, referenceOhmPerKm);
  const potentials = solve(edges, 1 + ordered.length * 3);
  const earthOhm = (joint: Edge) => joint.ohm + (ordered[joint.joint!]!.earthOhm ?? 0);
  const loops = (['shield', 'reference'] as const).flatMap((kind) => {
    const ofKind = edges.filter((edge) => edge.kind === kind);
    const joints = ofKind.filter(({ joint }) => joint !== null);
    const stretches = ofKind.filter(({ joint }) => joint === null);
    return joints.slice(1).map((to, index): GroundLoop => {
      const from = joints[index]!;
      const between = stretches.slice(from.joint!, to.joint!);
      const [a, b] = [ordered[from.joint!]!, ordered[to.joint!]!];
      const ohm = [...between.map((edge) => edge.ohm), earthOhm(from), earthOhm(to)].reduce((sum, one) => sum + one, 0);
      const alongOhm = between.reduce((sum, edge) => sum + Math.max(edge.ohm, LEAST_OHM), 0);
      return {
        conductor: kind === 'shield' ? 'shield' : 'reference conductor',
        between: [a.name, b.name],
        volts: Math.abs(a.earthV - b.earthV),
        ohm,
        currentA: ohm === 0 && a.earthV !== b.earthV ? null : Math.abs(potentials[from.to]! - potentials[to.to]!) / alongOhm,
      };
    });
  });
  const commonMode = widest(ordered.filter((device) => !device.isolated));
  return { loops, commonMode, withinRange: !commonMode || commonMode.volts <= RECEIVER_V };
}

/** Node 0 is the plant's main earth; each device has an earth, a shield and a reference node. Each kind comes in the order along the cable. */
function network(devices: readonly EarthedDevice[], shieldOhmPerKm: number | null, referenceOhmPerKm: number | null): Edge[] {
  const earth = (index: number) => 1 + index * 3;
  const conductors = [
    {
      kind: 'shield' as const,
      ohmPerKm: shieldOhmPerKm,
      node: (index: number) => earth(index) + 1,
      joins: ({ shieldGrounded }: EarthedDevice) => (shieldGrounded ? 0 : null),
    },
    {
      kind: 'reference' as const,
      ohmPerKm: referenceOhmPerKm,
      node: (index: number) => earth(index) + 2,
      joins: ({ reference, isolated }: EarthedDevice) =>
        isolated || reference === 'none' ? null : reference === 'direct' ? 0 : REFERENCE_OHM,
    },
  ];
  const edges: Edge[] = devices.map(({ earthV, earthOhm = 0 }, index) => ({
    from: 0,
    to: earth(index),
    ohm: earthOhm,
    volts: earthV,
    kind: 'earth',
    joint: null,
  }));
  const present = conductors.filter(({ ohmPerKm }) => ohmPerKm !== null);
  for (const { kind, ohmPerKm, node } of present) {
    for (let index = 1; index < devices.length; index++) {
      const km = (devices[index]!.atM - devices[index - 1]!.atM) / 1000;
      edges.push({ from: node(index - 1), to: node(index), ohm: ohmPerKm! * km, volts: 0, kind, joint: null });
    }
  }
  for (const { kind, node, joins } of present) {
    devices.forEach((device, index) => {
      const ohm = joins(device);
      if (ohm !== null) edges.push({ from: earth(index), to: node(index), ohm, volts: 0, kind, joint: index });
    });
  }
  return edges;
}

/**
 * Potentials of all nodes against node 0, the last node taken out first: a star of conductances becomes the mesh that does the same, and
 * what is fed into its middle is shared out. Conductances are only added, multiplied and divided, never subtracted, so that a joint of
 * nearly no resistance costs no digits elsewhere. What is joined to nothing is held at 0 V.
 */
function solve(edges: readonly Edge[], count: number): number[] {
  const conductance = Array.from({ length: count }, () => new Array<number>(count).fill(0));
  const fed = new Array<number>(count).fill(0);
  for (const { from, to, ohm, volts } of edges) {
    const one = 1 / Math.max(ohm, LEAST_OHM);
    conductance[from]![to]! += one;
    conductance[to]![from]! += one;
    fed[from]! -= one * volts;
    fed[to]! += one * volts;
  }
  const outOf = (node: number) => conductance[node]!.slice(0, node).reduce((sum, one) => sum + one, 0);
  for (let node = count - 1; node > 0; node--) {
    const sum = outOf(node);
    for (let near = 0; sum > 0 && near < node; near++) {
      const share = conductance[node]![near]! / sum;
      fed[near]! += share * fed[node]!;
      for (let far = 0; far < node; far++) if (far !== near) conductance[near]![far]! += share * conductance[node]![far]!;
    }
  }
  const potentials = [0];
  for (let node = 1; node < count; node++) {
    const sum = outOf(node);
    const reached = conductance[node]!.slice(0, node).reduce((all, one, near) => all + one * potentials[near]!, fed[node]!);
    potentials.push(sum > 0 ? reached / sum : 0);
  }
  return potentials;
}

function widest(devices: readonly EarthedDevice[]): GroundResult['commonMode'] {
  if (devices.length < 2) return null;
  const byEarth = [...devices].sort((a, b) => a.earthV - b.earthV);
  const [low, high] = [byEarth[0]!, byEarth.at(-1)!];
  return { between: [low.name, high.name], volts: high.earthV - low.earthV };
}
