import { fernhollow } from '@plain-envoy/core/demo';
import { wiringOf } from '@plain-envoy/core/playing';
import { decode } from '@plain-envoy/core/value';
import { PlayedDevice } from './index.js';

const demo = fernhollow();
const { maps } = wiringOf(demo);

/** A device of the demo, just switched on. */
function play(name: string): PlayedDevice {
  const device = demo.devices.find((one) => one.name === name)!;
  const played = new PlayedDevice();
  played.takeSettings(device, maps[device.id]!);
  return played;
}

function live(standIn: PlayedDevice, ms: number, heard = true): void {
  for (let passed = 0; passed < ms; passed += 50) {
    if (heard) standIn.heard();
    standIn.step(50);
  }
}

describe('the programs of the demo', () => {
  it('are all sound, and run a while without stopping', () => {
    for (const { name, program } of demo.devices) {
      if (!program) continue;
      const played = play(name);
      live(played, 5000);
      expect([name, played.program!.problems, played.program!.stopped]).toEqual([name, [], null]);
    }
  });
});

describe('a fan drive', () => {
  const READY = 0b00001;
  const ON = 0b00011;
  const RUNNING = 0b00111;
  const FAULT = 0b01000;
  const AT_TARGET = 0b10111;
  let fan: PlayedDevice;
  const command = (word: number) => fan.bank.set('holding', 0, word);
  const status = () => fan.bank.get('input', 0);
  const speed = () => fan.bank.get('input', 1);

  beforeEach(() => {
    fan = play('Fan drive north');
    fan.bank.set('holding', 1, 400);
  });

  it('goes from ready to on to running, and ramps to its set point', () => {
    expect(status()).toBe(READY);
    command(0b01);
    live(fan, 100);
    expect(status()).toBe(ON);
    command(0b11);
    live(fan, 1000);
    expect(status()).toBe(RUNNING);
    expect(speed()).toBe(80);
    live(fan, 5000);
    expect([status(), speed()]).toEqual([AT_TARGET, 400]);
  });

  it('does not start when on and run come at once', () => {
    command(0b11);
    live(fan, 1000);
    expect([status(), speed()]).toEqual([READY, 0]);
  });

  it('trips without a word from its master, and only a rising reset while off clears it', () => {
    command(0b01);
    live(fan, 100);
    command(0b11);
    live(fan, 6000);
    live(fan, 2900, false);
    expect(status()).toBe(AT_TARGET);
    live(fan, 200, false);
    expect([status() & FAULT, fan.bank.get('input', 10)]).toEqual([FAULT, 7]);
    live(fan, 8000);
    expect(speed()).toBe(0);
    command(0b1000_0011);
    live(fan, 100);
    expect(status()).toBe(FAULT);
    command(0);
    live(fan, 100);
    command(0b1000_0000);
    live(fan, 100);
    expect([status(), fan.bank.get('input', 10)]).toEqual([READY, 0]);
  });
});

describe('an exhaust damper', () => {
  it('follows its set point at a finite speed and closes a contact at each end', () => {
    const damper = play('Exhaust damper');
    const ends = () => [damper.bank.get('discrete', 0), damper.bank.get('discrete', 1)];
    damper.bank.set('holding', 0, 1000);
    live(damper, 5000);
    expect(damper.bank.get('input', 0)).toBe(450);
    live(damper, 20_000);
    expect([damper.bank.get('input', 0), ...ends()]).toEqual([1000, 1, 0]);
    damper.bank.set('holding', 0, 0);
    live(damper, 30_000);
    expect([damper.bank.get('input', 0), ...ends()]).toEqual([0, 0, 1]);
  });
});

describe('an air-on transmitter', () => {
  it('drifts slowly within what a kiln does, low word first', () => {
    const transmitter = play('Air-on transmitter');
    const read = (offset: number) => {
      const value = decode([...transmitter.bank.slice('input', offset, 2)], { type: 'float32', order: 'CDAB' });
      return value.ok ? Number(value.value.value) : NaN;
    };
    let last = read(10);
    for (let second = 0; second < 300; second++) {
      live(transmitter, 1000);
      expect(Math.abs(read(10) - last)).toBeLessThan(0.3);
      last = read(10);
      expect(read(10)).toBeGreaterThan(59);
      expect(read(10)).toBeLessThan(64);
      expect(read(12)).toBeGreaterThan(44);
      expect(read(12)).toBeLessThan(52);
    }
  });
});

describe('the kiln controller', () => {
  it('asks a fan on, then to run, and resets a fault by pulses', () => {
    const controller = play('Kiln controller');
    const commandFor = (status: number) => {
      controller.bank.set('holding', 60, status);
      const seen = new Set<number>();
      for (let passed = 0; passed < 4000; passed += 50) {
        controller.step(50);
        seen.add(controller.bank.get('holding', 64));
      }
      return [...seen].sort((a, b) => a - b);
    };
    expect(commandFor(0b1)).toEqual([0b01]);
    expect(commandFor(0b11)).toEqual([0b11]);
    expect(commandFor(0b1000)).toEqual([0, 0b1000_0000]);
  });
});

describe('a burner control', () => {
  const BURNING = 0b0011;
  it('obeys its command only while it is released, heats up, and trips in silence', () => {
    const burner = play('Burner control');
    burner.bank.set('holding', 1, 620, 1);
    live(burner, 500);
    expect(burner.bank.get('input', 0)).toBe(0);
    burner.bank.set('holding', 0, 1);
    live(burner, 5000);
    expect(burner.bank.get('input', 0)).toBe(BURNING);
    expect(burner.bank.get('input', 1)).toBeGreaterThan(300);
    live(burner, 4500, false);
    expect(burner.bank.get('input', 0)).toBe(0b1001);
    burner.bank.set('holding', 2, 1 << 7);
    live(burner, 100);
    expect(burner.bank.get('input', 0)).toBe(0b0001);
  });
});

describe('a steep controller', () => {
  it('has a batch ready a while after it was called for, and the next number after that', () => {
    const steep = play('Steep controller');
    const batch = () => decode([...steep.bank.slice('holding', 100, 2)], { type: 'uint32', order: 'CDAB' });
    expect(batch()).toEqual(jasmine.objectContaining({ ok: true, value: jasmine.objectContaining({ value: 70_412 }) }));
    steep.bank.set('coil', 20, 1);
    live(steep, 7000);
    expect(steep.bank.get('coil', 10)).toBe(0);
    live(steep, 2000);
    expect(steep.bank.get('coil', 10)).toBe(1);
    steep.bank.set('coil', 20, 0);
    live(steep, 100);
    expect([steep.bank.get('coil', 10), steep.bank.get('holding', 100)]).toEqual([0, 70_413 & 0xffff]);
  });
});

describe('a watchdog on a heartbeat', () => {
  it('withdraws what was ready or called for when the other side stops beating, and not before it ever beat', () => {
    const steep = play('Steep controller');
    steep.bank.set('coil', 20, 1);
    live(steep, 9000);
    expect(steep.bank.get('coil', 10)).withContext('nobody has beaten yet').toBe(1);
    steep.bank.set('holding', 121, 1);
    live(steep, 3900);
    expect(steep.bank.get('coil', 10)).toBe(1);
    live(steep, 300);
    expect(steep.bank.get('coil', 10)).withContext('it stood still for 4 s').toBe(0);
    const kiln = play('Kiln controller');
    kiln.bank.set('holding', 83, 1);
    kiln.bank.set('coil', 11, 1);
    live(kiln, 1000);
    expect(kiln.bank.get('coil', 11)).toBe(1);
    live(kiln, 4200);
    expect(kiln.bank.get('coil', 11)).toBe(0);
  });
});

describe('a plant meter', () => {
  it('counts energy with swapped bytes and refuses to be read across its holes', () => {
    const meter = play('Plant meter');
    live(meter, 60_000);
    const energy = decode([...meter.bank.slice('holding', 8120, 2)], { type: 'uint32', order: 'BADC' });
    expect(energy.ok && energy.value.value).toBeGreaterThanOrEqual(1_204_500);
    expect([meter.bank.has('holding', 7440, 2), meter.bank.has('holding', 7440, 3), meter.bank.has('holding', 0, 1)]).toEqual([
      true,
      false,
      false,
    ]);
  });
});

describe('a yard display', () => {
  it('is busy for a while with a new text, then ready, and repeats it', () => {
    const display = play('Yard display');
    display.bank.set('holding', 0, 0x4261, 0x7463);
    live(display, 1000);
    expect(display.bank.get('holding', 100)).toBe(0);
    live(display, 1000);
    expect([display.bank.get('holding', 100), display.bank.get('holding', 110)]).toEqual([1, 0x4261]);
  });
});

describe('a humidity bridge', () => {
  it('loses about three answers in a hundred', () => {
    const bridge = play('Loft humidity bridge');
    const lost = Array.from({ length: 5000 }, () => bridge.answers()).filter((answered) => !answered).length;
    expect(lost).toBeGreaterThan(80);
    expect(lost).toBeLessThan(220);
  });
});

describe('the floors and the grain', () => {
  it('move as floors and grain do', () => {
    const floor = play('Floor I/O block');
    floor.bank.set('holding', 600, 500);
    floor.bank.set('holding', 641, 0b101);
    live(floor, 10_000);
    expect([floor.bank.get('input', 30), floor.bank.get('input', 87)]).toEqual([20, 0b101_0000_0111]);
    const cable = play('Grain cable 1');
    const [top, middle] = [0, 11].map((sensor) => (cable.bank.get('input', sensor) << 16) >> 16) as [number, number];
    expect(top).toBeLessThan(middle);
  });
});
