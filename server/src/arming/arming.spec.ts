import { ProblemError } from '../problem/index.js';
import { Arming } from './arming.js';

describe('arming', () => {
  let ended: [string, string | null][];
  let arming: Arming;

  const refused = (may: 'read' | 'write', on: 'real' | 'stand-ins' = 'real') => {
    try {
      arming.allow('plant', on, may);
      return null;
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      return error.problem;
    }
  };

  beforeEach(() => {
    jasmine.clock().install().mockDate(new Date(1_000_000));
    ended = [];
    arming = new Arming((projectId, because) => ended.push([projectId, because]));
  });
  afterEach(() => {
    arming.end();
    jasmine.clock().uninstall();
  });

  it('is needed for the real plant and never for stand-ins', () => {
    expect([refused('read', 'stand-ins'), refused('write', 'stand-ins')]).toEqual([null, null]);
    expect(refused('read')?.message).toContain('Real lines are not armed');
    expect(refused('write')).toEqual(jasmine.objectContaining({ message: jasmine.stringContaining('not armed'), path: ['on'] }));
  });

  it('to write allows reading as well, and to read nothing more', () => {
    arming.arm('plant', 'read', 5);
    expect([refused('read'), refused('write') !== null]).toEqual([null, true]);
    expect([arming.until('plant', 'read'), arming.until('plant', 'write')]).toEqual([1_300_000, null]);
    arming.arm('plant', 'write', 1);
    expect([refused('read'), refused('write')]).toEqual([null, null]);
    expect([arming.until('plant', 'read'), arming.until('plant', 'write'), arming.until('other', 'read')]).toEqual([
      1_060_000,
      1_060_000,
      null,
    ]);
  });

  it('ends by itself after its time, and says why', () => {
    arming.arm('plant', 'write', 2);
    jasmine.clock().tick(119_999);
    expect([refused('write'), ended]).toEqual([null, []]);
    jasmine.clock().tick(1);
    expect(refused('write')).not.toBeNull();
    expect(ended).toEqual([['plant', 'The time for which the real plant was armed is over.']]);
  });

  it('anew counts from then, and a wish to read does not shorten a grant to write', () => {
    arming.arm('plant', 'write', 2);
    jasmine.clock().tick(60_000);
    arming.arm('plant', 'write', 2);
    jasmine.clock().tick(119_999);
    arming.arm('plant', 'read', 60);
    expect(refused('write')).toBeNull();
    jasmine.clock().tick(1);
    expect([refused('read') !== null, ended.length]).toEqual([true, 1]);
  });

  it('is taken back once, with the reason given, and not by its clock any more', () => {
    arming.arm('plant', 'read', 1);
    arming.disarm('plant', 'The bench was stopped.');
    arming.disarm('plant', 'Again.');
    jasmine.clock().tick(120_000);
    expect(ended).toEqual([['plant', 'The bench was stopped.']]);
    expect(refused('read')).not.toBeNull();
  });

  it('of one project is none of another', () => {
    arming.arm('other', 'write', 1);
    expect(refused('read')).not.toBeNull();
    arming.end();
    expect(arming.until('other', 'write')).toBeNull();
    jasmine.clock().tick(120_000);
    expect(ended).withContext('ending the server tells nobody').toEqual([]);
  });
});
