import type { Beginning } from './beginning.js';
import { controller, endBus, exchange, fieldDevices, played } from './exchange.js';

export const gateway: Beginning = {
  id: 'gateway',
  name: 'A controller and some devices through a gateway',
  says: 'An Ethernet network with the controller and a gateway, and behind that an RS-485 bus at 19200 baud, 8E1, with the devices.',
  devices: { most: 31, usual: 3 },
  make(maker, wished) {
    const net = maker.net('Network');
    const bus = maker.bus('Bus');
    const asks = maker.controller('Controller', net, controller);
    // Whoever asks waits for a second; by then it has said that nobody answered.
    maker.gateway('Gateway', net, bus, { ...played, timeoutMs: 500 });
    const devices = fieldDevices(maker, wished.devices);
    for (const device of devices) maker.port(device, bus);
    endBus(maker, bus.id);
    exchange(maker, asks, devices);
  },
};
