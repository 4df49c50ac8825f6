import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { MatDialogRef } from '@angular/material/dialog';
import { Api } from '../data/api';
import { Session } from '../data/session';
import { nowOf, pageOf, submit, textOf, turn, typeInto } from '../testing.spec-helper';
import { SignIn } from './sign-in';

describe('SignIn', () => {
  let http: HttpTestingController;
  let closed: number;
  const wrong = { error: { message: 'This is not the passphrase.', path: ['passphrase'] } };

  beforeEach(() => {
    closed = 0;
    const dialog = { close: () => (closed += 1) };
    TestBed.configureTestingModule({
      providers: [provideHttpClient(), provideHttpClientTesting(), { provide: MatDialogRef, useValue: dialog }],
    });
    http = TestBed.inject(HttpTestingController);
  });

  it('says at its field what is refused, keeps what was typed, and closes once one is in', async () => {
    const fixture = TestBed.createComponent(SignIn);
    fixture.detectChanges();
    typeInto(fixture, 'input[formControlName=name]', 'A. Person');
    typeInto(fixture, 'input[formControlName=passphrase]', 'a guess');
    await submit(fixture);
    const tried = http.expectOne('/api/sign-in');
    expect(tried.request.body).toEqual({ name: 'A. Person', passphrase: 'a guess' });
    tried.flush(wrong, { status: 401, statusText: 'No' });
    await turn();
    fixture.detectChanges();
    expect(textOf(fixture, 'mat-error')).toBe('This is not the passphrase.');
    expect(pageOf(fixture).querySelector<HTMLInputElement>('input[formControlName=name]')!.value).toBe('A. Person');
    await submit(fixture);
    http.expectOne('/api/sign-in').error(new ProgressEvent('lost'));
    await turn();
    fixture.detectChanges();
    expect(textOf(fixture, '[role=alert]')).toContain('The server does not answer.');
    typeInto(fixture, 'input[formControlName=passphrase]', 'the right one');
    await submit(fixture);
    http.expectOne('/api/sign-in').flush({ needed: true, name: 'A. Person' });
    await turn();
    expect([closed, nowOf(TestBed.inject(Session).name$)]).toEqual([1, 'A. Person']);
  });

  it('is asked for when any answer says that somebody has to sign in', async () => {
    const session = TestBed.inject(Session);
    session.look().subscribe();
    http.expectOne('/api/session').flush({ needed: true, name: 'A. Person' });
    await turn();
    expect(nowOf(session.asks$)).toBeFalse();
    TestBed.inject(Api).get('projects').subscribe();
    http.expectOne('/api/projects').flush({ error: { message: 'Sign in first.', path: [] } }, { status: 401, statusText: 'No' });
    await turn();
    expect(nowOf(session.asks$)).toBeTrue();
    session.signIn('B. Person', 'the right one').subscribe();
    http.expectOne('/api/sign-in').flush({ needed: true, name: 'B. Person' });
    await turn();
    session.signOut().subscribe();
    http.expectOne('/api/sign-out').flush({ needed: true, name: null });
    await turn();
    expect(nowOf(session.asks$)).toBeTrue();
  });
});
