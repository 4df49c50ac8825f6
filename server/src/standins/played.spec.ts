import { fernhollow } from '@plain-envoy/core/demo';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { StandInsControl } from './control-client.js';
import { Played } from './played.js';

const demo = fernhollow();
const named = (name: string): ProjectDocument => ({ ...demo, project: { ...demo.project, name } });

describe('the project that the stand-ins play', () => {
  let followed: string[];
  let told: (string | null)[];
  let answer: () => Promise<void>;
  let played: Played;

  beforeEach(() => {
    [followed, told] = [[], []];
    answer = () => Promise.resolve();
    const control = {
      follow: (document: ProjectDocument) => {
        followed.push(document.project.name);
        return answer();
      },
    };
    played = new Played(control as StandInsControl, (problem) => told.push(problem));
  });

  it('is followed through its edits; those of another project are not', async () => {
    await played.play(named('first'));
    played.edited({ ...demo, project: { ...demo.project, id: 'other' } });
    played.edited(named('edited'));
    await played.play(named('again'));
    expect(followed).toEqual(['first', 'edited', 'again']);
    expect(played.problem).toBeNull();
  });

  it('is followed one edit after the other, and of several that wait only the last', async () => {
    let release: () => void = () => undefined;
    answer = () => new Promise((done) => (release = done));
    const first = played.play(named('first'));
    for (const name of ['second', 'third', 'fourth']) played.edited(named(name));
    answer = () => Promise.resolve();
    release();
    await first;
    expect(followed).toEqual(['first', 'fourth']);
  });

  it('says why the stand-ins could not follow, until they can', async () => {
    answer = () => Promise.reject(new Error('The address is taken.'));
    await played.play(named('first'));
    answer = () => Promise.resolve();
    await played.play(named('second'));
    expect(told).toEqual(['The address is taken.', null]);
  });
});
