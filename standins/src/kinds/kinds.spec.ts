import { decode } from '@plain-envoy/core/value';
import { AirOnTransmitter } from './air-on-transmitter.js';
import { ExhaustDamper } from './exhaust-damper.js';
import { FanDrive } from './fan-drive.js';
import { KilnController } from './kiln-controller.js';
import type { StandIn } from './stand-in.js';

function live(standIn: StandIn, ms: number, heard = true): void {
  for (let passed = 0; passed < ms; passed += 50) {
    if (heard) standIn.heard?.();
    standIn.step(50);
  }
}

describe('a fan drive', () => {
  const READY = 0b00001;
  const ON = 0b00011;
  const RUNNING = 0b00111;
  const FAULT = 0b01000;
  const AT_TARGET = 0b10111;
  let fan: FanDrive;
  const command = (word: number) => fan.bank.set('holding', 0, word);
  const status = () => fan.bank.get('input', 0);
  const speed = () => fan.bank.get('input', 1);

  beforeEach(() => {
    fan = new FanDrive();
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
    const damper = new ExhaustDamper();
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
    const transmitter = new AirOnTransmitter();
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
    const controller = new KilnController();
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
