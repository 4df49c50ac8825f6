import * as z from 'zod';
import { Transform } from '../steps/index.js';
import { Device } from './device.js';
import { Coupler } from '../modules/index.js';
import { Cable, Line, Port } from '../media/index.js';

/** The JSON Schema of one kind of line, port, device or step of a route, from which a form is built. */
export function fieldSchema(entity: 'line' | 'port' | 'device' | 'cable' | 'coupler' | 'transform', kind?: string): unknown {
  if (entity === 'device') return z.toJSONSchema(Device);
  if (entity === 'cable') return z.toJSONSchema(Cable);
  if (entity === 'coupler') return z.toJSONSchema(Coupler);
  const options: readonly z.ZodObject[] = entity === 'line' ? Line.options : entity === 'port' ? Port.options : Transform.options;
  const schema = options.find((option) => (option.shape['kind'] as z.ZodLiteral).value === kind);
  if (!schema) throw new RangeError(`There is no ${entity} of the kind ${kind}.`);
  return z.toJSONSchema(schema);
}
