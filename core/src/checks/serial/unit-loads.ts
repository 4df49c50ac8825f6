import { defineCheck, onLine } from '../../findings/index.js';
import { standards } from '../../line/index.js';

export const unitLoads = defineCheck({
  id: 'unit-loads',
  severity: 'warning',
  scope: 'serial',
  meaning: 'The devices on a serial line load its drivers more than they can bear without a repeater.',
  find: (bus) => {
    const { line, members } = bus;
    if (line.standard === 'rs232' || line.cable.repeatersAtM.length > 0) return [];
    const { mostDevices, name } = standards[line.standard];
    const sum = members.reduce((total, { port }) => total + port.unitLoads, 0);
    const bearable = Math.min(mostDevices, ...members.map(({ port }) => port.driverLoads));
    if (sum <= bearable) return [];
    return [
      {
        message: `The devices on ${line.name} are ${Math.round(sum * 100) / 100} unit loads; ${name} drives ${bearable} without a repeater.`,
        mend: 'Put a repeater in, split the line, or take devices with a quarter or an eighth of a unit load.',
        at: onLine(bus),
      },
    ];
  },
});
