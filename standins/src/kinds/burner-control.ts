import { RegisterBank } from '@plain-envoy/engine/server';
import { type StandIn, towards } from './stand-in.js';

const RELEASE = 0;
const TARGET = 1;
const COMMAND = 2;
const BURN = 1 << 0;
const RESET = 1 << 7;
const status = { released: 1 << 0, burning: 1 << 1, tripped: 1 << 3 };
const TRIPS_AFTER_MS = 4000;
const COLD_TENTHS = 180;
const TENTHS_PER_S = 40;

/**
 * A burner that obeys its command word only while its release word is 1, and trips when its master stays silent for 4 s;
 * a trip is left by a rising reset bit while burn is not asked.
 */
export class BurnerControl implements StandIn {
  readonly bank = new RegisterBank({ holding: 16, input: 16 });
  private state: 'idle' | 'burning' | 'tripped' = 'idle';
  private silentMs = 0;
  private flue = COLD_TENTHS;
  private lastCommand = 0;

  constructor() {
    this.show();
  }

  heard(): void {
    this.silentMs = 0;
  }

  step(ms: number): void {
    this.silentMs += ms;
    const command = this.bank.get('holding', COMMAND);
    const released = this.bank.get('holding', RELEASE) === 1;
    const resetRises = (command & RESET) !== 0 && (this.lastCommand & RESET) === 0;
    if (this.state === 'tripped') {
      if (resetRises && (command & BURN) === 0) this.state = 'idle';
    } else if (this.state === 'burning' && this.silentMs > TRIPS_AFTER_MS) {
      this.state = 'tripped';
    } else {
      this.state = released && (command & BURN) !== 0 ? 'burning' : 'idle';
    }
    this.lastCommand = command;
    const goal = this.state === 'burning' ? this.bank.get('holding', TARGET) * 2 : COLD_TENTHS;
    this.flue = towards(this.flue, goal, (TENTHS_PER_S * ms) / 1000);
    this.show();
  }

  private show(): void {
    const released = this.bank.get('holding', RELEASE) === 1 ? status.released : 0;
    const burning = this.state === 'burning' ? status.burning : 0;
    this.bank.set('input', 0, released | burning | (this.state === 'tripped' ? status.tripped : 0), Math.round(this.flue));
  }
}
