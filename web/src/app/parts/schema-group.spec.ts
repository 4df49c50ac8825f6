import { TestBed } from '@angular/core/testing';
import { FormArray, FormControl, FormGroup } from '@angular/forms';
import { bad } from '@plain-envoy/core/outcome';
import * as z from 'zod';
import { groupOf, type JsonSchema, type TypedForm } from './schema-fields';
import { SchemaForm } from './schema-form';
import { issuesValidator, problemIn, problemOf, readGroup, refuseIn, schemaValidator, settle } from './schema-group';
import { typedNumber } from './form';

const Round = z
  .strictObject({
    name: z.string().min(1, 'A name is needed.'),
    periodMs: z.int('A whole number.').min(10, 'The shortest period is 10 ms.'),
    steps: z.array(z.strictObject({ ms: z.int('A whole number of ms.') })),
  })
  .refine(({ name, periodMs }) => name !== 'never' || periodMs > 1000, 'It is not that fast.');

interface Typed {
  name: string;
  periodMs: string;
  steps: { ms: string }[];
}

describe('a form that is checked by a schema', () => {
  const check = {
    schema: Round,
    from: ({ name, periodMs, steps }: Typed) => ({
      name: name.trim(),
      periodMs: typedNumber(periodMs),
      steps: steps.map(({ ms }) => ({ ms: typedNumber(ms) })),
    }),
  };
  const control = (value: string) => new FormControl(value, { nonNullable: true });
  const form = () =>
    new FormGroup(
      {
        name: control('Fast'),
        periodMs: control('500'),
        steps: new FormArray([new FormGroup({ ms: control('5') }), new FormGroup({ ms: control('6') })]),
      },
      schemaValidator(check),
    );

  it('reads the value of the schema where all fits', () => {
    const group = form();
    group.controls.periodMs.setValue(' 250 ');
    expect(readGroup(group, check)).toEqual({ name: 'Fast', periodMs: 250, steps: [{ ms: 5 }, { ms: 6 }] });
    expect(group.valid).toBeTrue();
  });

  it('says at each control what does not fit there, at any depth, and keeps what was typed', () => {
    const group = form();
    group.controls.name.setValue('  ');
    group.controls.periodMs.setValue('5');
    group.controls.steps.at(1).controls.ms.setValue('soon');
    expect(readGroup(group, check)).toBeNull();
    expect([group.controls.name, group.controls.periodMs, group.controls.steps.at(1).controls.ms].map(problemOf)).toEqual([
      'A name is needed.',
      'The shortest period is 10 ms.',
      'A whole number of ms.',
    ]);
    expect(problemOf(group.controls.steps.at(0).controls.ms)).toBeNull();
    expect([group.valid, group.controls.periodMs.value]).toEqual([false, '5']);
    group.controls.periodMs.setValue('50');
    expect([problemOf(group.controls.periodMs), problemOf(group.controls.name)]).toEqual([null, 'A name is needed.']);
  });

  it('says at the group what belongs to none of them', () => {
    const group = form();
    group.controls.name.setValue('never');
    expect(problemOf(group)).toBe('It is not that fast.');
    expect([group.controls.name, group.controls.periodMs].map(problemOf)).toEqual([null, null]);
  });

  it('shows a refusal of the server at its field until something else is typed there', () => {
    const group = form();
    refuseIn(group, { message: 'There is one of that name.', path: ['changes', 0, 'after', 'name'] });
    expect([problemOf(group.controls.name), group.controls.name.touched, group.valid]).toEqual(['There is one of that name.', true, false]);
    group.controls.name.setValue('Faster');
    expect([problemOf(group.controls.name), group.valid]).toEqual([null, true]);
    refuseIn(group, { message: 'Somebody was quicker.', path: [] });
    expect(problemOf(group)).toBe('Somebody was quicker.');
  });

  it('settles an answer: what is refused is said at its place, also without a change, and no longer once it is taken', () => {
    const group = form();
    const refusal = bad('It is armed.', 'periodMs');
    expect([settle(group, refusal), problemOf(group.controls.periodMs)]).toEqual([false, 'It is armed.']);
    expect(settle(group, bad('The bench is stopped.', 'elsewhere', 1))).toBeFalse();
    expect([problemOf(group.controls.periodMs), problemOf(group)]).toEqual([null, 'The bench is stopped.']);
    expect([settle(group, { ok: true, value: 7 }), problemOf(group), group.valid]).toEqual([true, null, true]);
  });

  it('tells of a group in it what no field says, once it was tried to save it', () => {
    const inner = new FormGroup({ low: control('9'), high: control('3') });
    const group = new FormGroup(
      { inner },
      issuesValidator(() => [{ path: ['inner'], message: 'The highest is below the lowest.' }]),
    );
    TestBed.runInInjectionContext(() => {
      const problem = problemIn(() => group);
      TestBed.tick();
      expect(problem()).toBeNull();
      group.markAllAsTouched();
      expect(problem()).toBe('The highest is below the lowest.');
    });
  });
});

describe('the fields of a schema', () => {
  it('say of rows together what is wrong with them, at their place', () => {
    const item: JsonSchema = { type: 'object', properties: { from: { type: 'integer' } }, required: ['from'] };
    const schema: JsonSchema = { properties: { pairs: { type: 'array', items: item } }, required: ['pairs'] };
    const group = groupOf(schema, { pairs: [{ from: '1' }, { from: '1' }] });
    const twice = (typed: TypedForm) => new Set((typed['pairs'] as TypedForm[]).map(({ from }) => from)).size < 2;
    group.addValidators(
      issuesValidator((typed: TypedForm) => (twice(typed) ? [{ path: ['pairs'], message: 'A code is listed twice.' }] : [])),
    );
    const fixture = TestBed.createComponent(SchemaForm);
    fixture.componentRef.setInput('schema', schema);
    fixture.componentRef.setInput('group', group);
    fixture.detectChanges();
    group.updateValueAndValidity();
    group.markAllAsTouched();
    fixture.detectChanges();
    const said = () => (fixture.nativeElement as HTMLElement).querySelector('fieldset [role=alert]')?.textContent ?? '';
    expect(said()).toBe('A code is listed twice.');
    const second = (group.controls['pairs'] as FormArray<FormGroup>).at(1).controls['from']!;
    second.setValue('2');
    fixture.detectChanges();
    expect(said()).toBe('');
  });
});
