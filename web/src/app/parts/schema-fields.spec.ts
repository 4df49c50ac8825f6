import { describeReckoners } from '@plain-envoy/core/reckoner';
import { fieldSchema } from '@plain-envoy/core/model';
import { fernhollow } from '@plain-envoy/core/demo';
import { defaultsOf, fieldsOf, type JsonSchema, labelOf, typedOf, valueOf } from './schema-fields';

const demo = fernhollow();

describe('fields from a schema', () => {
  it('have labels in words, with their units', () => {
    expect(['responseDelayMs', 'atM', 'earthV', 'shieldOhmPerKm', 'perSecond', 'baud', 't35Ms', 'currentA'].map(labelOf)).toEqual([
      'Response delay, ms',
      'At, m',
      'Earth, V',
      'Shield, Ω per km',
      'Per second',
      'Baud',
      'T35, ms',
      'Current, A',
    ]);
  });

  it('take over every example of every reckoner, and give it back', () => {
    for (const { name, input, example } of describeReckoners()) {
      const schema = input as JsonSchema;
      const back = valueOf(schema, typedOf(schema, example as Record<string, unknown>));
      expect(back)
        .withContext(name)
        .toEqual(jasmine.objectContaining(example as Record<string, unknown>) as never);
    }
  });

  it('take over every port of the demo, and give back what they show', () => {
    for (const port of demo.ports) {
      const schema = fieldSchema('port', port.kind) as JsonSchema;
      expect({ ...port, ...valueOf(schema, typedOf(schema, port)) })
        .withContext(port.id)
        .toEqual(port);
    }
  });

  it('have as many lines as their schema says', () => {
    const lines = (name: string) => {
      const { input } = describeReckoners().find((reckoner) => reckoner.name === name)!;
      return Object.fromEntries(fieldsOf(input as JsonSchema).map((field) => [field.key, field.lines]));
    };
    expect(lines('find-telegram')).toEqual({ text: 5, hex: 0 });
    expect(lines('telegram')['telegram']).toBe(4);
  });

  it('are of the kind that their schema asks for', () => {
    const kinds = Object.fromEntries(fieldsOf(fieldSchema('port', 'serial') as JsonSchema).map((field) => [field.key, field.kind]));
    expect([kinds['baud'], kinds['dataBits'], kinds['parity'], kinds['isolated'], kinds['setHow']]).toEqual([
      'number',
      'choice',
      'choice',
      'tick',
      'text',
    ]);
    const unit = fieldsOf(fieldSchema('port', 'serial') as JsonSchema).find(({ key }) => key === 'unitId')!;
    expect([unit.kind, unit.nullable]).toEqual(['number', true]);
  });

  it('keep text that is no number, so that the schema can refuse it, and read hex and a decimal comma', () => {
    const schema: JsonSchema = {
      properties: { a: { type: 'number' }, list: { type: 'array', items: { type: 'integer' } } },
      required: ['a'],
    };
    expect(valueOf(schema, { a: 'ten', list: '1, 2;0x10' })).toEqual({ a: 'ten', list: [1, 2, 16] });
    expect(valueOf(schema, { a: '1,5', list: '' })).toEqual({ a: 1.5 });
  });

  it('take none for a number that may be none, and begin with what the schema says', () => {
    const schema: JsonSchema = {
      properties: { low: { type: ['number', 'null'], default: null }, range: { enum: ['a', 'b'], default: 'b' }, name: { type: 'string' } },
      required: ['low', 'range', 'name'],
    };
    expect(fieldsOf(schema).map(({ kind, nullable }) => [kind, nullable])).toEqual([
      ['number', true],
      ['choice', false],
      ['text', false],
    ]);
    expect(valueOf(schema, { low: '', range: 'a', name: '' })).toEqual({ low: null, range: 'a', name: '' });
    expect(valueOf(schema, { low: '1,5' })).toEqual({ low: 1.5 });
    expect(typedOf(schema, defaultsOf(schema))).toEqual({ low: '', range: 'b', name: '' });
  });
});
