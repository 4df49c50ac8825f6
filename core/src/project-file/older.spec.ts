import { fernhollow } from '../demo/index.js';
import { ProjectDocument, templateOf } from '../model/index.js';
import { fromOlder, readTemplate } from './index.js';

const demo = fernhollow();
const older = <T extends object>(ports: readonly T[]) =>
  ports.map((port) => {
    const { forwardedUnits, ...rest } = port as T & { forwardedUnits?: unknown };
    return forwardedUnits === undefined ? rest : { ...rest, passes: forwardedUnits };
  });

describe('Files of older versions', () => {
  it('are read by the names that fields had then, a project as well as a device', () => {
    const file: unknown = JSON.parse(JSON.stringify({ ...demo, ports: older(demo.ports) }));
    expect(ProjectDocument.safeParse(file).success).toBeFalse();
    expect(ProjectDocument.parse(fromOlder(file))).toEqual(demo);
    const gateway = demo.devices.find(({ name }) => name === 'Kiln gateway')!;
    const template = templateOf(demo, gateway.id);
    const read = readTemplate(JSON.stringify({ ...template, ports: older(template.ports) }));
    expect(read).toEqual({ ok: true, value: template });
  });

  it('are left alone where nothing in them was called otherwise', () => {
    for (const json of [null, 7, [], { ports: 'none' }, { ports: [null, 3] }]) expect(fromOlder(json)).toEqual(json);
  });
});
