import { RegisterBank } from '@plain-envoy/engine/server';
import { type StandIn, towards } from './stand-in.js';

const COMMAND = 0;
const TARGET = 1;
const TIMEOUT = 2;
const RAMP = 4;
const TOP = 5;
const command = { on: 1 << 0, run: 1 << 1, reset: 1 << 7 };
const status = { ready: 1 << 0, on: 1 << 1, running: 1 << 2, fault: 1 << 3, atTarget: 1 << 4 };

const NO_COMMUNICATION = 7;
const RATED_TENTHS_HZ = 600;
const IDLE_TENTHS_A = 21;

/**
 * A drive with a command word and a status word: ready → on → running, and a fault that only a rising reset bit clears,
 * given while neither on nor run is asked. Without a word from its master for its comms timeout it trips with fault 7. Its settings
 * are its top speed, how long it takes to get there, and the pulses of its encoder.
 */
export class FanDrive implements StandIn {
  readonly bank = new RegisterBank({ holding: 16, input: 16 });
  private state: 'ready' | 'on' | 'running' | 'fault' = 'ready';
  private speed = 0;
  private silentMs = 0;
  private lastCommand = 0;

  constructor() {
    this.bank.set('holding', TIMEOUT, 30);
    this.bank.set('holding', RAMP, 75, RATED_TENTHS_HZ, 2048);
    this.show();
  }

  heard(): void {
    this.silentMs = 0;
  }

  step(ms: number): void {
    this.silentMs += ms;
    const timeoutMs = this.bank.get('holding', TIMEOUT) * 100;
    const commanded = this.bank.get('holding', COMMAND);
    if (this.state !== 'ready' && timeoutMs > 0 && this.silentMs > timeoutMs) this.state = 'fault';
    else this.follow(commanded);
    this.lastCommand = commanded;
    const [top, rampMs] = [this.bank.get('holding', TOP), this.bank.get('holding', RAMP) * 100];
    const target = this.state === 'running' ? Math.min(top, this.bank.get('holding', TARGET)) : 0;
    this.speed = towards(this.speed, target, rampMs > 0 ? (top * ms) / rampMs : RATED_TENTHS_HZ);
    this.show();
  }

  private follow(commanded: number): void {
    const on = (commanded & command.on) !== 0;
    const run = (commanded & command.run) !== 0;
    const resetRises = (commanded & command.reset) !== 0 && (this.lastCommand & command.reset) === 0;
    if (this.state === 'fault') {
      if (resetRises && !on && !run) this.state = 'ready';
    } else if (!on) {
      this.state = 'ready';
    } else if (this.state === 'ready') {
      this.state = run ? 'ready' : 'on';
    } else {
      this.state = run ? 'running' : 'on';
    }
  }

  private show(): void {
    const target = this.bank.get('holding', TARGET);
    const word =
      (this.state === 'ready' ? status.ready : 0) |
      (this.state === 'on' || this.state === 'running' ? status.ready | status.on : 0) |
      (this.state === 'running' ? status.running : 0) |
      (this.state === 'fault' ? status.fault : 0) |
      (this.state === 'running' && Math.round(this.speed) === target ? status.atTarget : 0);
    const turning = this.speed > 0 ? IDLE_TENTHS_A + (this.speed / RATED_TENTHS_HZ) ** 2 * 120 : 0;
    this.bank.set('input', 0, word, Math.round(this.speed), Math.round(turning));
    this.bank.set('input', 10, this.state === 'fault' ? NO_COMMUNICATION : 0);
  }
}
