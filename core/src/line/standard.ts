import * as z from 'zod';
import { modbusFramings } from '../frame/index.js';

/** What stands on the wires, and how many may. Figures are those of the standards; lengths hold for the slowest rates. */
export interface LineStandard {
  name: string;
  levels: Levels;
  duplex: Duplex;
  /** Devices without a repeater, the one that asks among them. */
  mostDevices: number;
  /** Without a repeater. */
  mostM: number;
  /** A bus needs a resistor at both ends and one bias; a point-to-point cable needs neither. */
  terminated: boolean;
  /** The names of its wires, in the order in which a wiring sheet lists them. */
  signals: readonly string[];
}

export const Levels = z.enum(['rs485', 'rs422', 'rs232']);
export type Levels = z.infer<typeof Levels>;
export const Duplex = z.enum(['half', 'full']);
export type Duplex = z.infer<typeof Duplex>;
export const StandardName = z.enum(['rs485-two-wire', 'rs485-four-wire', 'rs422', 'rs232']);
export type StandardName = z.infer<typeof StandardName>;
/** How characters become messages on a serial line. `text` is neither of the two that Modbus knows. */
export const SerialFraming = z.enum([...modbusFramings, 'text']);
export type SerialFraming = z.infer<typeof SerialFraming>;

const fourWires = ['T+', 'T−', 'R+', 'R−', 'C'] as const;

export const standards: Readonly<Record<StandardName, LineStandard>> = {
  'rs485-two-wire': {
    name: 'RS-485 two-wire',
    levels: 'rs485',
    duplex: 'half',
    mostDevices: 32,
    mostM: 1200,
    terminated: true,
    signals: ['D+', 'D−', 'C'],
  },
  'rs485-four-wire': {
    name: 'RS-485 four-wire',
    levels: 'rs485',
    duplex: 'full',
    mostDevices: 32,
    mostM: 1200,
    terminated: true,
    signals: fourWires,
  },
  rs422: { name: 'RS-422', levels: 'rs422', duplex: 'full', mostDevices: 11, mostM: 1200, terminated: true, signals: fourWires },
  rs232: {
    name: 'RS-232',
    levels: 'rs232',
    duplex: 'full',
    mostDevices: 2,
    mostM: 15,
    terminated: false,
    signals: ['TX', 'RX', 'GND', 'RTS', 'CTS'],
  },
};

/** A rule of thumb for RS-485 and RS-422: baud times metres stays under this. */
export const BAUD_METRES = 1e8;
/** The longest derivation from the trunk (Modbus over serial line V1.02, 3.4.2). */
export const LONGEST_STUB_M = 20;
