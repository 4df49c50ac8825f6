import { SmallProject } from '@plain-envoy/core/testing';

/** A drive on the net with points of every kind that a setting can be. */
export function driveProject() {
  const project = new SmallProject();
  const drive = project.device('Drive');
  project.port(drive, project.net(), {});
  const unlock = project.point(drive, 'Unlock', { offset: 18 });
  const points = {
    unlock,
    ramp: project.point(drive, 'Ramp', { offset: 10, scale: { factor: 0.1, offset: 0 }, unit: 's' }),
    limit: project.point(drive, 'Limit', { offset: 12, type: 'float32', releasedBy: unlock.id }),
    mode: project.point(drive, 'Mode', { offset: 14 }),
    brake: project.point(drive, 'Brake', { offset: 16, type: 'bit', bit: 3 }),
    missing: project.point(drive, 'Missing', { offset: 20 }),
    command: project.point(drive, 'Command', { offset: 30, access: 'write' }),
  };
  return { document: project.document, drive, points };
}
