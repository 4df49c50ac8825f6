// Damaged frames against both ends of both telecontrol protocols: `npm run fuzz -- 1000000`. Nothing may throw, and no point may change that
// no sound frame names.
import { stationsOn } from '../core/dist/converter/index.js';
import { fernhollow } from '../core/dist/demo/index.js';
import { buildFrame104, readAsdu, readFrame104, Stream104 } from '../core/dist/iec104/index.js';
import { Assembly, buildFragment, buildLink, kindOfGroup, LinkStream, readFragment, segments } from '../core/dist/ieee1815/index.js';
import { addressKey, isEventPoint } from '../core/dist/telecontrol-line/index.js';
import { ControlEnd, OutstationEnd } from '../core/dist/telecontrol-side/index.js';
import { iec104Vectors, ieee1815Vectors } from '../core/dist/testing/index.js';

const COUNT = Number(process.argv[2] ?? 1_000_000);
/** A connection is opened anew after so many frames, as nothing is heard on one that was closed. */
const EACH = 50;
const STATION = 13;

let seed = 20_261_129;
const random = () => {
  seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
  return seed / 0x1_0000_0000;
};
const below = (end) => Math.floor(random() * end);

/** The grid link of the demo, each of its points at the address of its place in the list. */
function stationBy(standard) {
  const demo = fernhollow();
  const lines = demo.lines.map((line) => (line.kind === 'telecontrol' ? { ...line, standard } : line));
  const points = demo.points.map((point, index) =>
    isEventPoint(point) ? { ...point, place: { ...point.place, index: 1 + (index % 7) } } : point,
  );
  return stationsOn({ ...demo, lines, points }, lines.find(({ kind }) => kind === 'telecontrol').id)[0];
}

/** Both ends, and which points each of them has changed. */
function endsOf(station, standard) {
  const changed = [];
  let isClosed = false;
  const memory = { read: () => [0], write: (point) => void (isEventPoint(point) && changed.push(addressKey(standard, point.place))) };
  const rules = { station, memory, tells: false, send: () => undefined, close: () => void (isClosed = true) };
  const ends = [new ControlEnd(rules, 0), new OutstationEnd(rules, 0)];
  return { ends, changed, isClosed: () => isClosed, open: () => ((isClosed = false), ends.forEach((end) => end.connected(0))) };
}

function bytesOf(hex) {
  return Uint8Array.from(hex.split(/\s+/), (octet) => parseInt(octet, 16));
}

const vectors104 = iec104Vectors.map(({ hex }) => bytesOf(hex));
const kinds = {
  'iec60870-5-104': {
    frame(turn, at) {
      const asdu = vectors104[below(vectors104.length)].slice();
      asdu.set([STATION, 0], 4);
      asdu.set([1 + below(7), 0, 0], 6);
      return buildFrame104({ kind: 'numbered', sent: random() < 0.02 ? below(9) : at, received: random() < 0.02 ? below(3) : 0, asdu });
    },
    /** To the control station, and to the outstation. */
    begins: () => [buildFrame104({ kind: 'service', service: 'start confirmed' }), buildFrame104({ kind: 'service', service: 'start' })],
    /** What sound frames of these bytes name. */
    namer() {
      const stream = new Stream104();
      return (bytes) =>
        stream.push(bytes).frames.flatMap((whole) => {
          const read = readFrame104(whole);
          const asdu = read.ok && read.value.kind === 'numbered' ? readAsdu(read.value.asdu) : null;
          return asdu && asdu.problems.length === 0 ? asdu.asdu.objects.map(({ address }) => String(address)) : [];
        });
    },
  },
  ieee1815: {
    frame(turn) {
      const { group, variation, held } = ieee1815Vectors[below(ieee1815Vectors.length)];
      const isCommand = group === 12 || group === 41;
      const made = buildFragment({
        ...{ isFirst: true, isFinal: true, wantsConfirm: false, isUnsolicited: !isCommand, sequence: turn % 16 },
        ...(isCommand ? { functionCode: 3 + below(3), indications: null } : { functionCode: 130, indications: 0 }),
        headers: [{ group, variation, qualifier: 0x28, objects: [{ index: 1 + below(7), held }] }],
      });
      const fragment = made.ok ? made.value : new Uint8Array();
      // Some are damaged before the checks are made, so that they pass.
      if (random() < 0.5 && fragment.length) fragment[below(fragment.length)] = below(256);
      const [data] = segments(fragment, turn % 64);
      const [source, destination] = isCommand ? [12, STATION] : [STATION, 12];
      return buildLink({
        ...{ fromMaster: isCommand, isPrimary: true, countBit: false, countValid: false, functionCode: 4 },
        source,
        destination,
        data,
      });
    },
    begins: () => [],
    namer() {
      const [stream, assembly] = [new LinkStream(), new Assembly()];
      return (bytes) =>
        stream.push(bytes).flatMap(({ frame }) => {
          const whole = frame && assembly.push(frame.data);
          const read = whole ? readFragment(whole) : null;
          if (!read || read.problem !== null) return [];
          const nameOf = (group) => kindOfGroup.get(group) ?? { 12: 'output', 41: 'set point' }[group];
          return read.fragment.headers.flatMap(({ group, objects }) => objects.map(({ index }) => `${nameOf(group)} ${index}`));
        });
    },
  },
};

let wrong = 0;
for (const [standard, kind] of Object.entries(kinds)) {
  const station = stationBy(standard);
  const from = performance.now();
  let [opened, sound, plant, named] = [0, 0, null, null];
  for (let turn = 0; turn < COUNT / 2; turn++) {
    if (!plant || plant.heard >= EACH || plant.isClosed()) {
      plant = endsOf(station, standard);
      named = kind.namer();
      plant.open();
      for (const [index, frame] of kind.begins().entries()) plant.ends[index].hear(frame, 0);
      plant.heard = 0;
      opened += 1;
    }
    const frame = kind.frame(turn, plant.heard);
    for (let change = random() < 0.5 ? 0 : 1 + below(2); change > 0; change--) frame[below(frame.length)] = below(256);
    const bytes = random() < 0.05 ? frame.subarray(0, below(frame.length)) : frame;
    plant.changed.length = 0;
    const names = new Set(named(bytes));
    for (const end of plant.ends) end.hear(bytes, turn);
    plant.heard += 1;
    if (plant.changed.length > 0) sound += 1;
    const strange = plant.changed.filter((key) => !names.has(key));
    if (strange.length === 0) continue;
    wrong += 1;
    console.log(`${standard}: ${strange.join(', ')} changed by ${Buffer.from(bytes).toString('hex')}`);
  }
  const seconds = ((performance.now() - from) / 1000).toFixed(0);
  console.log(`${standard}: ${COUNT / 2} frames, ${opened} connections, ${sound} frames changed a point, in ${seconds} s`);
}
console.log(wrong === 0 ? 'No other point changed, and nothing threw.' : `${wrong} frames changed a point that they do not name.`);
process.exit(wrong === 0 ? 0 : 1);
