import { BY_ITS_MAP } from '@plain-envoy/core/model';
import { wiringOf } from '@plain-envoy/core/playing';
import { reelOf } from '@plain-envoy/core/replay';
import { recordedExchange, SmallProject } from '@plain-envoy/core/testing';
import { PlayedDevice } from './index.js';

describe('a stand-in with a program', () => {
  let project: SmallProject;
  let device: ReturnType<SmallProject['device']>;
  let played: PlayedDevice;

  const runs = (program: string) => {
    const set = { ...device, program };
    played.takeSettings(set, wiringOf({ ...project.document, devices: [set] }).maps[device.id]!);
    return played.program!;
  };
  const at = (offset: number, count = 1) => [...played.bank.slice('holding', offset, count)];
  const inProgram = (body: string, variables = '') => runs(`PROGRAM P VAR ${variables} END_VAR ${body} END_PROGRAM`);

  beforeEach(() => {
    project = new SmallProject();
    device = project.device('Pump', { standIn: BY_ITS_MAP });
    played = new PlayedDevice();
    project.point(device, 'Set point', { offset: 0 });
    project.point(device, 'Flow', { offset: 1, type: 'float32', order: 'CDAB' });
    project.point(device, 'Ready', { offset: 3, type: 'bit', bit: 2 });
    project.point(device, 'Status', { offset: 3, type: 'bits', length: 1 });
    project.point(device, 'Name', { offset: 4, type: 'string', length: 3, encoding: 'ascii' });
    project.point(device, 'Total', { offset: 8, type: 'int64' });
    project.point(device, 'Digits', { offset: 12, type: 'bcd16' });
    project.point(device, 'Level', { offset: 13, type: 'int16' });
    project.point(device, 'Open', { table: 'coil', offset: 5, type: 'bit' });
  });

  it('has its points as variables of their types, in and out of the registers in their orders', () => {
    const program = inProgram(
      "Flow := UINT_TO_REAL(Set_point) / 4.0; Status.0 := TRUE; Ready := Set_point > 2; Name := CONCAT('P', 'x'); Total := -2; Digits := UINT_TO_BCD_WORD(Set_point); Level := -5; Open := NOT Open;",
    );
    expect(program.problems).toEqual([]);
    played.bank.set('holding', 0, 6);
    played.step(50);
    expect(at(1, 2)).toEqual([0, 0x3fc0]);
    expect(at(3)).toEqual([0b101]);
    expect(at(4, 3)).toEqual([0x5078, 0, 0]);
    expect(at(8, 4)).toEqual([0xffff, 0xffff, 0xffff, 0xfffe]);
    expect(at(12, 2)).toEqual([6, 0xfffb]);
    expect(played.bank.get('coil', 5)).withContext('once when it was switched on, once after').toBe(0);
  });

  it('keeps what a master has written, unless the program writes it', () => {
    inProgram('Level := 7;');
    played.bank.set('holding', 0, 44);
    played.bank.set('holding', 13, 99);
    played.step(50);
    expect([at(0), at(13)]).toEqual([[44], [7]]);
  });

  it('knows for one scan that a point was written, and how long nobody has spoken', () => {
    inProgram('IF WRITTEN(Set_point) THEN n := n + 1; END_IF; Level := n; Total := TIME_TO_LINT(SILENT_FOR());', 'n : INT;');
    played.wrote({ table: 'holding', first: 0, count: 1 });
    played.step(50);
    played.step(50);
    played.wrote({ table: 'holding', first: 1, count: 2 });
    played.wrote({ table: 'input', first: 0, count: 1 });
    played.step(50);
    expect([at(13), at(11)]).toEqual([[1], [150]]);
    played.heard();
    played.step(50);
    expect(at(11)).toEqual([50]);
  });

  it('goes on while nothing of it is edited, and begins anew with another text, or when it is switched on', () => {
    const text = 'PROGRAM P VAR n : INT; END_VAR n := n + 1; Level := n; END_PROGRAM';
    runs(text);
    played.step(50);
    runs(text);
    played.step(50);
    expect(at(13)).toEqual([3]);
    runs(text.replace('n + 1', 'n + 2'));
    expect(at(13)).toEqual([2]);
    played.restart();
    expect(at(13)).toEqual([2]);
  });

  it('gives nothing of a scan in which it stopped, and stands from then on', () => {
    const program = inProgram('Level := Level + 1; Total := 10 / (3 - Level);');
    expect(at(13)).toEqual([1]);
    for (let scan = 0; scan < 5; scan++) played.step(50);
    expect([at(13), program.stopped?.scan, program.stopped?.message]).toEqual([[2], 3, 'Division by zero.']);
    expect(program.values()).toEqual({ Level: 3, Total: '10' });
  });

  it('holds what is written to it without a program, or with one that is wrong', () => {
    expect(runs('PROGRAM P x := 1; END_PROGRAM').problems.length).toBe(1);
    played.bank.set('holding', 0, 9);
    played.step(50);
    expect(at(0)).toEqual([9]);
    runs('');
    expect(played.program).toBeNull();
    played.step(50);
    expect(at(0)).toEqual([9]);
  });
});

describe('a stand-in that plays a recording', () => {
  const of = { file: 'pump.pcapng', endpointId: '10.1.1.9:502', unit: 1 };
  const device = { ...new SmallProject().device('Pump'), recording: of, program: 'PROGRAM P Never := 1; END_PROGRAM' };
  const reel = reelOf(
    [10, 20].map((value, at) => recordedExchange({ atMs: at * 1000 }, 5, [value, 1])),
    of,
  );
  let played: PlayedDevice;

  beforeEach(() => {
    played = new PlayedDevice();
    played.takeSettings(device, { extents: { holding: [[0, 99]] }, points: [] });
  });

  it('has no registers before it was given, and then those that were seen, with their values in time', () => {
    expect([played.lacks, played.bank.has('holding', 5, 1), played.program]).toEqual([of, false, null]);
    played.takeRecording({ of, reel: reel.ok ? reel.value : null, problem: null });
    expect([played.bank.has('holding', 5, 2), played.bank.has('holding', 7, 1)]).toEqual([true, false]);
    expect([...played.bank.slice('holding', 5, 2)]).toEqual([10, 1]);
    played.step(1000);
    expect(played.bank.get('holding', 5)).toBe(20);
    expect([played.lacks, played.recordingState]).toEqual([null, { at: { atMs: 1000, lastsMs: 2000, round: 1 }, problem: null }]);
    played.restart();
    expect(played.bank.get('holding', 5)).toBe(10);
  });

  it('takes no recording that is another’s, says why it has none, and goes on with its map when it plays none any more', () => {
    played.takeRecording({ of: { ...of, unit: 2 }, reel: reel.ok ? reel.value : null, problem: null });
    expect(played.replay).toBeNull();
    played.takeRecording({ of, reel: null, problem: 'It is gone.' });
    expect([played.recordingState, played.lacks]).toEqual([{ at: null, problem: 'It is gone.' }, of]);
    played.takeSettings({ ...device, recording: null, program: '' }, { extents: { holding: [[0, 99]] }, points: [] });
    expect([played.recordingState, played.bank.has('holding', 0, 100)]).toEqual([null, true]);
  });
});
