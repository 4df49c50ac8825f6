import type { Beginning } from './beginning.js';
import { controller, endBus, exchange, fieldDevices } from './exchange.js';

export const rtu: Beginning = {
  id: 'rtu',
  name: 'A controller and some devices over RTU',
  says: 'An RS-485 bus at 19200 baud, 8E1, on which the controller asks, and the network over which the controller itself is seen.',
  devices: { most: 31, usual: 3 },
  make(maker, wished) {
    const bus = maker.bus('Bus');
    const asks = maker.controller('Controller', maker.net('Network'), controller);
    maker.master(asks, bus);
    const devices = fieldDevices(maker, wished.devices);
    for (const device of devices) maker.port(device, bus);
    endBus(maker, bus.id);
    exchange(maker, asks, devices);
  },
};
