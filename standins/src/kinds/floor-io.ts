import { RegisterBank } from '@plain-envoy/engine/server';
import { noise, type StandIn, towards } from './stand-in.js';

const FLOOR_LENGTH_TENTHS_M = 480;
const TURNER_TENTHS_M_PER_S = 2;
const FAN = 600;
const SPRAYS = 641;
const DOORS_CLOSED = 0b111;

/** A block of remote inputs and outputs over three germination floors: inputs 0 to 87, outputs at holding 600 to 641. */
export class FloorIo implements StandIn {
  readonly bank = new RegisterBank({ input: 88, holding: [[FAN, SPRAYS]] });
  private ageMs = 0;
  private turnerAt = 0;
  private turnerGoal = FLOOR_LENGTH_TENTHS_M;
  private air = [172, 168, 165];
  private readonly jitter = noise(7);

  constructor() {
    this.step(0);
  }

  step(ms: number): void {
    this.ageMs += ms;
    const cooling = this.bank.get('holding', FAN) / 1000;
    this.air = this.air.map((tenths, floor) => towards(tenths, 175 - floor * 3 - 20 * cooling, ms / 1000));
    this.air.forEach((tenths, floor) => this.bank.set('input', floor * 8, Math.round(tenths + 0.6 * this.jitter())));
    this.air.forEach((tenths, floor) => {
      const damp = this.bank.get('holding', SPRAYS) & (1 << floor) ? 40 : 0;
      this.bank.set('input', floor * 8 + 1, Math.round(tenths + 21 - floor * 2), Math.round(880 + damp - floor * 14 + 2 * this.jitter()));
    });
    this.turnerAt = towards(this.turnerAt, this.turnerGoal, (TURNER_TENTHS_M_PER_S * ms) / 1000);
    if (this.turnerAt === this.turnerGoal) this.turnerGoal = this.turnerGoal ? 0 : FLOOR_LENGTH_TENTHS_M;
    this.bank.set('input', 30, Math.round(this.turnerAt), TURNER_TENTHS_M_PER_S * 60);
    const flow = this.bank.get('holding', SPRAYS) & 0b111;
    this.bank.set('input', 87, DOORS_CLOSED | (flow << 8));
  }
}
