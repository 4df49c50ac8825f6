import { lineTime } from '../line/index.js';
import type { ModbusLine } from '../media/index.js';
import { SmallProject } from '../testing/index.js';
import { requestTimeMs, serialLinesOf, type TimedRequest } from './index.js';

const project = new SmallProject();
const bus = project.bus() as ModbusLine;
const base = {
  functionCode: 3,
  count: 4,
  also: null,
  withId: null,
  partial: null,
  release: null,
  table: 'holding',
  delayMs: 12,
} as unknown as TimedRequest;
const took = (fields: Partial<TimedRequest>) => requestTimeMs(bus, { ...base, ...fields });
const one = (functionCode: number, count: number, alsoCount?: number) =>
  lineTime({ settings: bus, framing: 'rtu', functionCode, count, alsoCount, responseDelayMs: 12 }).totalMs;

describe('how long a request holds its line', () => {
  it('is the time of the question, of the device and of the answer', () => {
    expect(took({})).toBe(one(3, 4));
    expect(took({ delayMs: 0 })).toBeCloseTo(one(3, 4) - 12, 6);
    expect(took({ functionCode: 4, count: 1 })).toBe(one(4, 1));
  });

  it('holds what goes out just before it or just after it', () => {
    const release = { when: 'before', functionCode: 6, table: 'holding', offset: 0, values: [1] } as const;
    expect(took({ functionCode: 16, count: 2, release: { ...release, values: [1] } })).toBeCloseTo(one(16, 2) + one(6, 1), 6);
    expect(took({ functionCode: 16, count: 2, partial: 'read' })).toBeCloseTo(one(16, 2) + one(3, 2), 6);
    expect(took({ functionCode: 22, count: 3, partial: 'mask' })).toBeCloseTo(3 * one(22, 1), 6);
  });

  it('is one time for a write and the read that it brings along', () => {
    const also = { id: 'read', offset: 0, count: 5 };
    expect(took({ functionCode: 23, count: 2, also })).toBe(one(23, 2, 5));
    expect(took({ functionCode: 23, count: 5, withId: 'write' })).toBe(0);
  });

  it('is nothing for a function that is not known', () => {
    expect(took({ functionCode: 99 })).toBe(0);
  });
});

describe('the serial line of a device', () => {
  it('is one that carries Modbus, and none where it is on Ethernet or speaks text', () => {
    const net = project.net();
    const text = project.bus('Text', { framing: 'text' });
    const [onBus, onNet, onText] = ['Bus', 'Net', 'Text'].map((name) => project.device(name));
    project.port(onBus!, bus);
    project.port(onNet!, net);
    project.port(onText!, text);
    const lines = serialLinesOf(project.document);
    expect([onBus, onNet, onText].map((device) => lines.get(device!.id)?.id)).toEqual([bus.id, undefined, undefined]);
  });
});
