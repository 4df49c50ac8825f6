import type { Beginning } from './beginning.js';
import { controller, exchange, fieldDevices } from './exchange.js';

export const tcp: Beginning = {
  id: 'tcp',
  name: 'A controller and some devices over TCP',
  says: 'One Ethernet network. The controller asks; each device has an address, a value and a set point.',
  devices: { most: 100, usual: 3 },
  make(maker, wished) {
    const net = maker.net('Network');
    const asks = maker.controller('Controller', net, controller);
    const devices = fieldDevices(maker, wished.devices);
    for (const device of devices) maker.port(device, net);
    exchange(maker, asks, devices);
  },
};
