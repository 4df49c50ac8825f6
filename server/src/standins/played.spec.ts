import { fernhollow } from '@plain-envoy/core/demo';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { StandInsControl } from './control-client.js';
import { Played } from './played.js';

const demo = fernhollow();
const named = (name: string): ProjectDocument => ({ ...demo, project: { ...demo.project, name } });

describe('the project that the stand-ins play', () => {
  let followed: string[];
  let told: (string | null)[];
  let answer: () => Promise<number>;
  let moved: number;
  let played: Played;

  beforeEach(() => {
    [followed, told, moved] = [[], [], 0];
    answer = () => Promise.resolve(1502);
    const control = {
      areThere: true,
      follow: (document: ProjectDocument) => {
        followed.push(document.project.name);
        return answer();
      },
    };
    played = new Played(
      control as StandInsControl,
      1502,
      (problem) => told.push(problem),
      () => (moved += 1),
    );
  });

  it('is followed through its edits once it is played, and set no second time where that is enough', async () => {
    played.edited(named('too early'));
    await played.ensure(named('first'));
    await played.ensure(named('first'));
    played.edited(named('edited'));
    await played.play(named('again'));
    expect(followed).toEqual(['first', 'edited', 'again']);
    expect(played.problem).toBeNull();
  });

  it('is followed one edit after the other, and of several that wait only the last', async () => {
    let release: (port: number) => void = () => undefined;
    answer = () => new Promise((done) => (release = done));
    const first = played.play(named('first'));
    for (const name of ['second', 'third', 'fourth']) played.edited(named(name));
    answer = () => Promise.resolve(1502);
    release(1502);
    await first;
    expect(followed).toEqual(['first', 'fourth']);
  });

  it('is told when its stand-ins listen elsewhere', async () => {
    await played.play(named('first'));
    answer = () => Promise.resolve(2502);
    await played.play(named('second'));
    expect([played.port, moved]).toEqual([2502, 1]);
  });

  it('says why the stand-ins could not follow, until they can', async () => {
    answer = () => Promise.reject(new Error('The address is taken.'));
    await played.play(named('first'));
    answer = () => Promise.resolve(1502);
    await played.play(named('second'));
    expect(told).toEqual(['The address is taken.', null]);
  });
});
