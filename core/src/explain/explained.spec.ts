import type { Direction } from '../frame/index.js';
import { bytesOf } from '../testing/index.js';
import { type ExplainedPdu, explainFrame, explainPdu } from './index.js';

/** Field by field, `from-to bytes name: meaning`; then what is wrong, and the sentence. */
function lines({ fields, problems, sentence }: ExplainedPdu): string[] {
  const shown = fields.map(({ name, from, to, hex, meaning }) => `${from}-${to} ${hex} ${name}: ${meaning}`);
  return [...shown, ...problems.map((problem) => `! ${problem}`), sentence];
}

const told = (hex: string, direction?: Direction) => lines(explainPdu(bytesOf(hex), 0, direction, 1));
const tcp = (hex: string) => lines(explainFrame(bytesOf(hex), 'tcp'));
const rtu = (hex: string) => lines(explainFrame(bytesOf(hex), 'rtu'));
const ascii = (text: string) =>
  lines(
    explainFrame(
      Uint8Array.from([...text], (character) => character.charCodeAt(0)),
      'ascii',
    ),
  );

describe('the explanation', () => {
  it('of reading', () => {
    expect(told('01 00 13 00 25', 'request')).toEqual([
      '0-0 01 function: function 1: read coils',
      '1-2 00 13 offset: offset 19, the 20th coil',
      '3-4 00 25 count: 37 coils',
      'is asked for 37 coils from offset 19.',
    ]);
    expect(told('02 00 C4 00 01', 'request')).toEqual([
      '0-0 02 function: function 2: read discrete inputs',
      '1-2 00 C4 offset: offset 196, the 197th discrete input',
      '3-4 00 01 count: 1 discrete input',
      'is asked for 1 discrete input from offset 196.',
    ]);
    expect(told('03 00 6B 00 03', 'request')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-2 00 6B offset: offset 107, the 108th holding register',
      '3-4 00 03 count: 3 holding registers',
      'is asked for 3 holding registers from offset 107.',
    ]);
    expect(told('04 FF FF 00 01', 'request')).toEqual([
      '0-0 04 function: function 4: read input registers',
      '1-2 FF FF offset: offset 65535, the 65536th input register',
      '3-4 00 01 count: 1 input register',
      'is asked for 1 input register from offset 65535.',
    ]);
    expect(told('04 FF FF 00 02', 'request')).toEqual([
      '0-0 04 function: function 4: read input registers',
      '1-2 FF FF offset: offset 65535, the 65536th input register',
      '3-4 00 02 count: 2 input registers',
      '! The last would be offset 65536; a table ends at 65535.',
      'is asked for 2 input registers from offset 65535.',
    ]);
    expect(told('03 00 00 00 00', 'request')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-2 00 00 offset: offset 0, the 1st holding register',
      '3-4 00 00 count: 0 holding registers',
      '! A count of 0 asks for nothing; function 3 carries 1 to 125.',
      'is asked for 0 holding registers from offset 0.',
    ]);
    expect(told('03 00 00 00 7E', 'request')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-2 00 00 offset: offset 0, the 1st holding register',
      '3-4 00 7E count: 126 holding registers',
      '! 126 is too many: function 3 carries at most 125.',
      'is asked for 126 holding registers from offset 0.',
    ]);
    expect(told('03 00 0A 00 7D', 'request')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-2 00 0A offset: offset 10, the 11th holding register',
      '3-4 00 7D count: 125 holding registers',
      'is asked for 125 holding registers from offset 10.',
    ]);
    expect(told('01 00 0C 07 D0', 'request')).toEqual([
      '0-0 01 function: function 1: read coils',
      '1-2 00 0C offset: offset 12, the 13th coil',
      '3-4 07 D0 count: 2000 coils',
      'is asked for 2000 coils from offset 12.',
    ]);
    expect(told('03 00 6B 00', 'request')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-2 00 6B offset: offset 107, the 108th holding register',
      '3-3 00 count: cut short',
      '! The frame ends too early: function 3 needs 5 bytes here, 4 are there.',
      'is spoken to with function 3, read holding registers.',
    ]);
    expect(told('03 00 6B', 'request')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-2 00 6B offset: offset 107, the 108th holding register',
      '! The frame ends too early: function 3 needs 5 bytes here, 3 are there.',
      'is spoken to with function 3, read holding registers.',
    ]);
    expect(told('03 00 70 00 03 09', 'request')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-2 00 70 offset: offset 112, the 113th holding register',
      '3-4 00 03 count: 3 holding registers',
      '5-5 09 leftover: belongs to no field',
      '! 1 byte too many follows.',
      'is asked for 3 holding registers from offset 112.',
    ]);
    expect(told('03 00 6F 00 03 09 08', 'request')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-2 00 6F offset: offset 111, the 112th holding register',
      '3-4 00 03 count: 3 holding registers',
      '5-6 09 08 leftover: belongs to no field',
      '! 2 bytes too many follow.',
      'is asked for 3 holding registers from offset 111.',
    ]);
  });

  it('of writing one', () => {
    expect(told('05 00 AC FF 00', 'request')).toEqual([
      '0-0 05 function: function 5: write one coil',
      '1-2 00 AC offset: offset 172, the 173rd coil',
      '3-4 FF 00 value: on',
      'is told to set the coil at offset 172 to on.',
    ]);
    expect(told('05 00 00 00 00', 'request')).toEqual([
      '0-0 05 function: function 5: write one coil',
      '1-2 00 00 offset: offset 0, the 1st coil',
      '3-4 00 00 value: off',
      'is told to set the coil at offset 0 to off.',
    ]);
    expect(told('05 00 01 12 34', 'request')).toEqual([
      '0-0 05 function: function 5: write one coil',
      '1-2 00 01 offset: offset 1, the 2nd coil',
      '3-4 12 34 value: 12 34',
      '! A coil is written with FF 00 for on or 00 00 for off, and nothing else.',
      'is told to set the coil at offset 1 to 12 34.',
    ]);
    expect(told('06 00 15 00 03', 'request')).toEqual([
      '0-0 06 function: function 6: write one register',
      '1-2 00 15 offset: offset 21, the 22nd holding register',
      '3-4 00 03 value: 3',
      'is told to set the holding register at offset 21 to 3.',
    ]);
    expect(told('06 00 0C 00 03 00', 'request')).toEqual([
      '0-0 06 function: function 6: write one register',
      '1-2 00 0C offset: offset 12, the 13th holding register',
      '3-4 00 03 value: 3',
      '5-5 00 leftover: belongs to no field',
      '! 1 byte too many follows.',
      'is told to set the holding register at offset 12 to 3.',
    ]);
    expect(told('05 00 02', 'request')).toEqual([
      '0-0 05 function: function 5: write one coil',
      '1-2 00 02 offset: offset 2, the 3rd coil',
      '! The frame ends too early: function 5 needs 5 bytes here, 3 are there.',
      'is spoken to with function 5, write one coil.',
    ]);
  });

  it('of writing many', () => {
    expect(told('0F 00 13 00 0A 02 CD 01', 'request')).toEqual([
      '0-0 0F function: function 15: write coils',
      '1-2 00 13 offset: offset 19, the 20th coil',
      '3-4 00 0A count: 10 coils',
      '5-5 02 bytes: 2 data bytes follow',
      '6-7 CD 01 data: 1011001110',
      'is told to write 10 coils from offset 19: 1011001110.',
    ]);
    expect(told('10 00 01 00 02 04 00 0A 01 02', 'request')).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 01 offset: offset 1, the 2nd holding register',
      '3-4 00 02 count: 2 holding registers',
      '5-5 04 bytes: 4 data bytes follow',
      '6-9 00 0A 01 02 data: 10, 258',
      'is told to write 2 holding registers from offset 1: 10, 258.',
    ]);
    expect(told('10 00 01 00 02 03 00 0A 01 02', 'request')).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 01 offset: offset 1, the 2nd holding register',
      '3-4 00 02 count: 2 holding registers',
      '5-5 03 bytes: 3 data bytes follow',
      '6-9 00 0A 01 02 data: 10, 258',
      '! The data of 2 holding registers is 4 bytes long; 3 stated.',
      '! 3 bytes of data stated; 4 are there.',
      'is told to write 2 holding registers from offset 1: 10, 258.',
    ]);
    expect(told('10 00 01 00 01 01 00', 'request')).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 01 offset: offset 1, the 2nd holding register',
      '3-4 00 01 count: 1 holding register',
      '5-5 01 bytes: 1 data byte follows',
      '6-6 00 data: ',
      '! The data of 1 holding register is 2 bytes long; 1 stated.',
      'is told to write 1 holding register from offset 1.',
    ]);
    expect(told('10 00 01 00 02 04 00 0A 01', 'request')).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 01 offset: offset 1, the 2nd holding register',
      '3-4 00 02 count: 2 holding registers',
      '5-5 04 bytes: 4 data bytes follow',
      '6-8 00 0A 01 data: 10',
      '! 4 bytes of data stated; 3 are there.',
      'is told to write 2 holding registers from offset 1: 10.',
    ]);
    expect(told('10 00 01 00 02 04', 'request')).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 01 offset: offset 1, the 2nd holding register',
      '3-4 00 02 count: 2 holding registers',
      '5-5 04 bytes: 4 data bytes follow',
      '! 4 bytes of data stated; 0 are there.',
      'is told to write 2 holding registers from offset 1.',
    ]);
    expect(told('10 00 01 00 02', 'request')).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 01 offset: offset 1, the 2nd holding register',
      '3-4 00 02 count: 2 holding registers',
      '! The data is missing.',
      'is told to write 2 holding registers from offset 1.',
    ]);
    expect(told('10 00 01 00', 'request')).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 01 offset: offset 1, the 2nd holding register',
      '3-3 00 count: cut short',
      '! The frame ends too early: function 16 needs 5 bytes here, 4 are there.',
      'is spoken to with function 16, write registers.',
    ]);
    expect(told('0F 00 01 00 08 02 FF FF', 'request')).toEqual([
      '0-0 0F function: function 15: write coils',
      '1-2 00 01 offset: offset 1, the 2nd coil',
      '3-4 00 08 count: 8 coils',
      '5-5 02 bytes: 2 data bytes follow',
      '6-7 FF FF data: 11111111',
      '! The data of 8 coils is 1 byte long; 2 stated.',
      'is told to write 8 coils from offset 1: 11111111.',
    ]);
    expect(
      told('10 00 02 00 10 20 00 01 00 02 00 03 00 04 00 05 00 06 00 07 00 08 00 09 00 0a 00 0b 00 0c 00 0d 00 0e 00 0f 00 10', 'request'),
    ).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 02 offset: offset 2, the 3rd holding register',
      '3-4 00 10 count: 16 holding registers',
      '5-5 20 bytes: 32 data bytes follow',
      '6-37 00 01 00 02 00 03 00 04 00 05 00 06 00 07 00 08 00 09 00 0A 00 0B 00 0C 00 0D 00 0E 00 0F 00 10 data: 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16',
      'is told to write 16 holding registers from offset 2: 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16.',
    ]);
    expect(
      told(
        '10 00 02 00 11 22 00 01 00 02 00 03 00 04 00 05 00 06 00 07 00 08 00 09 00 0a 00 0b 00 0c 00 0d 00 0e 00 0f 00 10 00 11',
        'request',
      ),
    ).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 02 offset: offset 2, the 3rd holding register',
      '3-4 00 11 count: 17 holding registers',
      '5-5 22 bytes: 34 data bytes follow',
      '6-39 00 01 00 02 00 03 00 04 00 05 00 06 00 07 00 08 00 09 00 0A 00 0B 00 0C 00 0D 00 0E 00 0F 00 10 00 11 data: 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16 … (17 in all)',
      'is told to write 17 holding registers from offset 2: 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16 … (17 in all).',
    ]);
  });

  it('of answers', () => {
    expect(told('03 06 02 2B 00 00 00 64', 'response')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-1 06 bytes: 6 data bytes follow',
      '2-7 02 2B 00 00 00 64 data: 555, 0, 100',
      'answers 555, 0, 100.',
    ]);
    expect(told('01 02 CD 6B', 'response')).toEqual([
      '0-0 01 function: function 1: read coils',
      '1-1 02 bytes: 2 data bytes follow',
      '2-3 CD 6B data: 1011001111010110',
      'answers 1011001111010110.',
    ]);
    expect(told('03 05 02 2B 00 00 00', 'response')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-1 05 bytes: 5 data bytes follow',
      '2-6 02 2B 00 00 00 data: 555, 0',
      '! An odd number of bytes cannot be whole registers.',
      'answers 555, 0.',
    ]);
    expect(told('03 04 02 2B 00', 'response')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-1 04 bytes: 4 data bytes follow',
      '2-4 02 2B 00 data: 555',
      '! 4 bytes of data stated; 3 are there.',
      'answers 555.',
    ]);
    expect(told('03 01 02', 'response')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-1 01 bytes: 1 data byte follows',
      '2-2 02 data: ',
      '! An odd number of bytes cannot be whole registers.',
      'answers nothing.',
    ]);
    expect(told('03', 'response')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '! The frame ends too early: function 3 needs 3 bytes here, 1 is there.',
      'answers function 3, read holding registers.',
    ]);
    expect(told('04 00', 'response')).toEqual([
      '0-0 04 function: function 4: read input registers',
      '1-1 00 bytes: 0 data bytes follow',
      '! The byte count is 0: an answer to a read carries at least one register or bit.',
      'answers function 4, read input registers.',
    ]);
    expect(told('05 00 AC FF 00', 'response')).toEqual([
      '0-0 05 function: function 5: write one coil',
      '1-2 00 AC offset: offset 172',
      '3-4 FF 00 value: on',
      'confirms the coil at offset 172 as on.',
    ]);
    expect(told('06 00 15 00 03', 'response')).toEqual([
      '0-0 06 function: function 6: write one register',
      '1-2 00 15 offset: offset 21',
      '3-4 00 03 value: 3',
      'confirms the holding register at offset 21 as 3.',
    ]);
    expect(told('06 00 15 00', 'response')).toEqual([
      '0-0 06 function: function 6: write one register',
      '1-2 00 15 offset: offset 21',
      '3-3 00 value: cut short',
      '! The frame ends too early: function 6 needs 5 bytes here, 4 are there.',
      'answers function 6, write one register.',
    ]);
    expect(told('05 00 01 00 07', 'response')).toEqual([
      '0-0 05 function: function 5: write one coil',
      '1-2 00 01 offset: offset 1',
      '3-4 00 07 value: 00 07',
      '! A coil is written with FF 00 for on or 00 00 for off, and nothing else.',
      'confirms the coil at offset 1 as 00 07.',
    ]);
    expect(told('06 00 15 00 03 00', 'response')).toEqual([
      '0-0 06 function: function 6: write one register',
      '1-2 00 15 offset: offset 21',
      '3-4 00 03 value: 3',
      '5-5 00 leftover: belongs to no field',
      '! 1 byte too many follows.',
      'confirms the holding register at offset 21 as 3.',
    ]);
    expect(told('10 00 01 00 02', 'response')).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 01 offset: offset 1',
      '3-4 00 02 count: 2 holding registers',
      'confirms 2 holding registers written from offset 1.',
    ]);
    expect(told('0F 00 13 00 01 00', 'response')).toEqual([
      '0-0 0F function: function 15: write coils',
      '1-2 00 13 offset: offset 19',
      '3-4 00 01 count: 1 coil',
      '5-5 00 leftover: belongs to no field',
      '! 1 byte too many follows.',
      'confirms 1 coil written from offset 19.',
    ]);
    expect(told('0F 00 13', 'response')).toEqual([
      '0-0 0F function: function 15: write coils',
      '1-2 00 13 offset: offset 19',
      '! The frame ends too early: function 15 needs 5 bytes here, 3 are there.',
      'answers function 15, write coils.',
    ]);
    expect(told('17 04 00 FE 0A CD', 'response')).toEqual([
      '0-0 17 function: function 23: write and read registers',
      '1-1 04 bytes: 4 data bytes follow',
      '2-5 00 FE 0A CD data: 254, 2765',
      'answers 254, 2765.',
    ]);
    expect(told('17 04', 'response')).toEqual([
      '0-0 17 function: function 23: write and read registers',
      '1-1 04 bytes: 4 data bytes follow',
      '! The frame ends too early: function 23 needs 3 bytes here, 2 are there.',
      'answers function 23, write and read registers.',
    ]);
  });

  it('of writing bits of a register', () => {
    expect(told('16 00 04 FF F2 00 05', 'request')).toEqual([
      '0-0 16 function: function 22: write bits of one register',
      '1-2 00 04 offset: offset 4, the 5th holding register',
      '3-4 FF F2 kept: 13 bits stay as they are',
      '5-6 00 05 set: bit 0 on, bit 2 on, bit 3 off',
      'is told to set bit 0 on, bit 2 on, bit 3 off of the holding register at offset 4.',
    ]);
    expect(told('16 00 04 FF FF 00 05', 'request')).toEqual([
      '0-0 16 function: function 22: write bits of one register',
      '1-2 00 04 offset: offset 4, the 5th holding register',
      '3-4 FF FF kept: all bits stay',
      '5-6 00 05 set: no bit at all',
      'is told to set no bit at all of the holding register at offset 4.',
    ]);
    expect(told('16 00 04 FF FE 00 05 00', 'request')).toEqual([
      '0-0 16 function: function 22: write bits of one register',
      '1-2 00 04 offset: offset 4, the 5th holding register',
      '3-4 FF FE kept: 15 bits stay as they are',
      '5-6 00 05 set: bit 0 on',
      '7-7 00 leftover: belongs to no field',
      '! 1 byte too many follows.',
      'is told to set bit 0 on of the holding register at offset 4.',
    ]);
    expect(told('16 00 0A 00 00 00', 'request')).toEqual([
      '0-0 16 function: function 22: write bits of one register',
      '1-2 00 0A offset: offset 10, the 11th holding register',
      '3-4 00 00 kept: 0 bits stay as they are',
      '5-5 00 set: cut short',
      '! The frame ends too early: function 22 needs 7 bytes here, 6 are there.',
      'is spoken to with function 22, write bits of one register.',
    ]);
  });

  it('of confirming bits of a register', () => {
    expect(told('16 00 04 FF F2 00 25', 'response')).toEqual([
      '0-0 16 function: function 22: write bits of one register',
      '1-2 00 04 offset: offset 4, the 5th holding register',
      '3-4 FF F2 kept: 13 bits stay as they are',
      '5-6 00 25 set: bit 0 on, bit 2 on, bit 3 off',
      'confirms bit 0 on, bit 2 on, bit 3 off of the holding register at offset 4.',
    ]);
    expect(told('16 00 04 FF F2 00', 'response')).toEqual([
      '0-0 16 function: function 22: write bits of one register',
      '1-2 00 04 offset: offset 4, the 5th holding register',
      '3-4 FF F2 kept: 13 bits stay as they are',
      '5-5 00 set: cut short',
      '! The frame ends too early: function 22 needs 7 bytes here, 6 are there.',
      'answers function 22, write bits of one register.',
    ]);
  });

  it('of writing and reading', () => {
    expect(told('17 00 03 00 06 00 0E 00 03 06 00 FF 00 FF 00 FF', 'request')).toEqual([
      '0-0 17 function: function 23: write and read registers',
      '1-2 00 03 offset: reading from offset 3',
      '3-4 00 06 count: 6 holding registers to read',
      '5-6 00 0E write offset: writing from offset 14',
      '7-8 00 03 write count: 3 holding registers to write',
      '9-9 06 bytes: 6 data bytes follow',
      '10-15 00 FF 00 FF 00 FF data: 255, 255, 255',
      'is told to write 3 holding registers from offset 14: 255, 255, 255; and is asked for 6 from offset 3.',
    ]);
    expect(told('17 00 03 00 01 00 0E 00 01 02 00 FF', 'request')).toEqual([
      '0-0 17 function: function 23: write and read registers',
      '1-2 00 03 offset: reading from offset 3',
      '3-4 00 01 count: 1 holding register to read',
      '5-6 00 0E write offset: writing from offset 14',
      '7-8 00 01 write count: 1 holding register to write',
      '9-9 02 bytes: 2 data bytes follow',
      '10-11 00 FF data: 255',
      'is told to write 1 holding register from offset 14: 255; and is asked for 1 from offset 3.',
    ]);
    expect(told('17 00 03 00 06 00 0E 00 03 04 00 FF', 'request')).toEqual([
      '0-0 17 function: function 23: write and read registers',
      '1-2 00 03 offset: reading from offset 3',
      '3-4 00 06 count: 6 holding registers to read',
      '5-6 00 0E write offset: writing from offset 14',
      '7-8 00 03 write count: 3 holding registers to write',
      '9-9 04 bytes: 4 data bytes follow',
      '10-11 00 FF data: 255',
      '! The data of 3 holding registers is 6 bytes long; 4 stated.',
      '! 4 bytes of data stated; 2 are there.',
      'is told to write 3 holding registers from offset 14: 255; and is asked for 6 from offset 3.',
    ]);
    expect(told('17 00 03 00 7E 00 0E 00 00 00', 'request')).toEqual([
      '0-0 17 function: function 23: write and read registers',
      '1-2 00 03 offset: reading from offset 3',
      '3-4 00 7E count: 126 holding registers to read',
      '5-6 00 0E write offset: writing from offset 14',
      '7-8 00 00 write count: 0 holding registers to write',
      '9-9 00 bytes: 0 data bytes follow',
      '! 126 is too many: function 23 carries at most 125.',
      '! 0 cannot be written: function 23 writes 1 to 121.',
      'is told to write 0 holding registers from offset 14; and is asked for 126 from offset 3.',
    ]);
    expect(told('17 00 03 00 06 00 0E', 'request')).toEqual([
      '0-0 17 function: function 23: write and read registers',
      '1-2 00 03 offset: reading from offset 3',
      '3-4 00 06 count: 6 holding registers to read',
      '5-6 00 0E write offset: writing from offset 14',
      '! The frame ends too early: function 23 needs 10 bytes here, 7 are there.',
      'is spoken to with function 23, write and read registers.',
    ]);
  });

  it('of refusals', () => {
    expect(told('83 02')).toEqual([
      '0-0 83 function: function 3, refused',
      '1-1 02 exception: exception 2, illegal data address: the device has no register at this address, or the request runs past its last one',
      'refuses function 3: exception 2, illegal data address: the device has no register at this address, or the request runs past its last one.',
    ]);
    expect(told('83')).toEqual([
      '0-0 83 function: function 3, refused',
      '! The exception has no code: what was refused is said, but not why.',
      'refuses function 3.',
    ]);
    expect(told('90 0C')).toEqual([
      '0-0 90 function: function 16, refused',
      '1-1 0C exception: exception 12, which the standard does not name',
      'refuses function 16: exception 12, which the standard does not name.',
    ]);
  });

  it('of unknown functions', () => {
    expect(told('41 01 02')).toEqual([
      '0-0 41 function: function 65',
      '1-2 01 02 data: 2 bytes',
      'is spoken to with function 65, whose data is not explained here.',
    ]);
    expect(told('41')).toEqual(['0-0 41 function: function 65', 'is spoken to with function 65, whose data is not explained here.']);
  });

  it('of frames whose direction their length tells', () => {
    expect(told('03 00 00 00 02')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-2 00 00 offset: offset 0, the 1st holding register',
      '3-4 00 02 count: 2 holding registers',
      'is asked for 2 holding registers from offset 0.',
    ]);
    expect(told('03 04 00 00 00 02')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-1 04 bytes: 4 data bytes follow',
      '2-5 00 00 00 02 data: 0, 2',
      'answers 0, 2.',
    ]);
    expect(told('03 02 00 02')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-1 02 bytes: 2 data bytes follow',
      '2-3 00 02 data: 2',
      'answers 2.',
    ]);
    expect(told('01 01 05')).toEqual([
      '0-0 01 function: function 1: read coils',
      '1-1 01 bytes: 1 data byte follows',
      '2-2 05 data: 10100000',
      'answers 10100000.',
    ]);
    expect(told('10 00 01 00 02')).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 01 offset: offset 1',
      '3-4 00 02 count: 2 holding registers',
      'confirms 2 holding registers written from offset 1.',
    ]);
    expect(told('10 00 01 00 01 02 00 07')).toEqual([
      '0-0 10 function: function 16: write registers',
      '1-2 00 01 offset: offset 1, the 2nd holding register',
      '3-4 00 01 count: 1 holding register',
      '5-5 02 bytes: 2 data bytes follow',
      '6-7 00 07 data: 7',
      'is told to write 1 holding register from offset 1: 7.',
    ]);
    expect(told('05 00 01 FF 00')).toEqual([
      '0-0 05 function: function 5: write one coil',
      '1-2 00 01 offset: offset 1, the 2nd coil',
      '3-4 FF 00 value: on',
      'is told to set the coil at offset 1 to on.',
    ]);
    expect(told('16 00 04 FF F2 00 25')).toEqual([
      '0-0 16 function: function 22: write bits of one register',
      '1-2 00 04 offset: offset 4, the 5th holding register',
      '3-4 FF F2 kept: 13 bits stay as they are',
      '5-6 00 25 set: bit 0 on, bit 2 on, bit 3 off',
      'is told to set bit 0 on, bit 2 on, bit 3 off of the holding register at offset 4.',
    ]);
    expect(told('17 02 00 01')).toEqual([
      '0-0 17 function: function 23: write and read registers',
      '1-2 02 00 offset: reading from offset 512',
      '3-3 01 count: cut short',
      '! The frame ends too early: function 23 needs 10 bytes here, 4 are there.',
      'is spoken to with function 23, write and read registers.',
    ]);
    expect(told('17 00 03 00 01 00 0E 00 01 02 00 FF')).toEqual([
      '0-0 17 function: function 23: write and read registers',
      '1-2 00 03 offset: reading from offset 3',
      '3-4 00 01 count: 1 holding register to read',
      '5-6 00 0E write offset: writing from offset 14',
      '7-8 00 01 write count: 1 holding register to write',
      '9-9 02 bytes: 2 data bytes follow',
      '10-11 00 FF data: 255',
      'is told to write 1 holding register from offset 14: 255; and is asked for 1 from offset 3.',
    ]);
    expect(told('0F 00 13 00 0A')).toEqual([
      '0-0 0F function: function 15: write coils',
      '1-2 00 13 offset: offset 19',
      '3-4 00 0A count: 10 coils',
      'confirms 10 coils written from offset 19.',
    ]);
    expect(told('03 05 00 00 00 02')).toEqual([
      '0-0 03 function: function 3: read holding registers',
      '1-2 05 00 offset: offset 1280, the 1281st holding register',
      '3-4 00 00 count: 0 holding registers',
      '5-5 02 leftover: belongs to no field',
      '! A count of 0 asks for nothing; function 3 carries 1 to 125.',
      '! 1 byte too many follows.',
      'is asked for 0 holding registers from offset 1280.',
    ]);
  });

  it('of nothing', () => {
    expect(told('')).toEqual(['! There is no function code.', 'is named, and nothing more.']);
  });

  it('in an MBAP header', () => {
    expect(tcp('00 01 00 00 00 06 FF 03 00 6B 00 03')).toEqual([
      '0-1 00 01 transaction: transaction 1; the answer carries the same number',
      '2-3 00 00 protocol: Modbus',
      '4-5 00 06 length: 6 bytes follow',
      '6-6 FF unit: unit 255',
      '7-7 03 function: function 3: read holding registers',
      '8-9 00 6B offset: offset 107, the 108th holding register',
      '10-11 00 03 count: 3 holding registers',
      'Unit 255 is asked for 3 holding registers from offset 107.',
    ]);
    expect(tcp('01 02 00 00 00 06 00 06 00 01 00 02')).toEqual([
      '0-1 01 02 transaction: transaction 258; the answer carries the same number',
      '2-3 00 00 protocol: Modbus',
      '4-5 00 06 length: 6 bytes follow',
      '6-6 00 unit: unit 0',
      '7-7 06 function: function 6: write one register',
      '8-9 00 01 offset: offset 1, the 2nd holding register',
      '10-11 00 02 value: 2',
      'Unit 0 is told to set the holding register at offset 1 to 2.',
    ]);
    expect(tcp('00 01 00 05 00 06 11 03 00 6B 00 03')).toEqual([
      '0-1 00 01 transaction: transaction 1; the answer carries the same number',
      '2-3 00 05 protocol: protocol 5, not Modbus',
      '4-5 00 06 length: 6 bytes follow',
      '6-6 11 unit: unit 17',
      '7-7 03 function: function 3: read holding registers',
      '8-9 00 6B offset: offset 107, the 108th holding register',
      '10-11 00 03 count: 3 holding registers',
      '! The protocol field is 5; Modbus has 0.',
      'Unit 17 is asked for 3 holding registers from offset 107. The protocol field is 5; Modbus has 0.',
    ]);
    expect(tcp('00 01 00 00 00 08 11 03 00 6B 00 03')).toEqual([
      '0-1 00 01 transaction: transaction 1; the answer carries the same number',
      '2-3 00 00 protocol: Modbus',
      '4-5 00 08 length: 8 bytes follow',
      '6-6 11 unit: unit 17',
      '7-7 03 function: function 3: read holding registers',
      '8-9 00 6B offset: offset 107, the 108th holding register',
      '10-11 00 03 count: 3 holding registers',
      '! The header announces 8 bytes; 6 came, so the frame is cut short.',
      'Unit 17 is asked for 3 holding registers from offset 107. The header announces 8 bytes; 6 came, so the frame is cut short.',
    ]);
    expect(tcp('00 01 00 00 00 05 11 03 00 6B 00 03')).toEqual([
      '0-1 00 01 transaction: transaction 1; the answer carries the same number',
      '2-3 00 00 protocol: Modbus',
      '4-5 00 05 length: 5 bytes follow',
      '6-6 11 unit: unit 17',
      '7-7 03 function: function 3: read holding registers',
      '8-9 00 6B offset: offset 107, the 108th holding register',
      '10-10 00 count: cut short',
      '11-11 03 leftover: belongs to no field',
      '! Past the end that the header states: 1 byte.',
      '! The frame ends too early: function 3 needs 5 bytes here, 4 are there.',
      'Unit 17 is spoken to with function 3, read holding registers. Past the end that the header states: 1 byte.',
    ]);
    expect(tcp('00 01 00 00 00 06 11')).toEqual([
      '0-1 00 01 transaction: transaction 1; the answer carries the same number',
      '2-3 00 00 protocol: Modbus',
      '4-5 00 06 length: 6 bytes follow',
      '6-6 11 unit: unit 17',
      '! The frame ends after 7 bytes; the header alone takes 7.',
      '! There is no function code.',
      'Unit 17 is named, and nothing more. The frame ends after 7 bytes; the header alone takes 7.',
    ]);
    expect(tcp('00 01 00 00 00')).toEqual([
      '0-1 00 01 transaction: transaction 1; the answer carries the same number',
      '2-3 00 00 protocol: Modbus',
      '4-4 00 leftover: belongs to no field',
      '! The frame ends after 5 bytes; the header alone takes 7.',
      '! There is no function code.',
      'An unknown unit is named, and nothing more. The frame ends after 5 bytes; the header alone takes 7.',
    ]);
    expect(tcp('00 01')).toEqual([
      '0-1 00 01 transaction: transaction 1; the answer carries the same number',
      '! The frame ends after 2 bytes; the header alone takes 7.',
      '! There is no function code.',
      'An unknown unit is named, and nothing more. The frame ends after 2 bytes; the header alone takes 7.',
    ]);
    expect(tcp('')).toEqual([
      '! The frame ends after 0 bytes; the header alone takes 7.',
      '! There is no function code.',
      'An unknown unit is named, and nothing more. The frame ends after 0 bytes; the header alone takes 7.',
    ]);
    expect(tcp('00 01 00 00 00 01 11 03')).toEqual([
      '0-1 00 01 transaction: transaction 1; the answer carries the same number',
      '2-3 00 00 protocol: Modbus',
      '4-5 00 01 length: 1 byte follows',
      '6-6 11 unit: unit 17',
      '7-7 03 leftover: belongs to no field',
      '! Past the end that the header states: 1 byte.',
      '! There is no function code.',
      'Unit 17 is named, and nothing more. Past the end that the header states: 1 byte.',
    ]);
    expect(tcp('00 01 00 00 01 02 11 83 02')).toEqual([
      '0-1 00 01 transaction: transaction 1; the answer carries the same number',
      '2-3 00 00 protocol: Modbus',
      '4-5 01 02 length: 258 bytes follow',
      '6-6 11 unit: unit 17',
      '7-7 83 function: function 3, refused',
      '8-8 02 exception: exception 2, illegal data address: the device has no register at this address, or the request runs past its last one',
      '! The header announces 258 bytes; 3 came, so the frame is cut short.',
      'Unit 17 refuses function 3: exception 2, illegal data address: the device has no register at this address, or the request runs past its last one. The header announces 258 bytes; 3 came, so the frame is cut short.',
    ]);
  });

  it('in RTU', () => {
    expect(rtu('11 03 00 6B 00 03 76 87')).toEqual([
      '0-0 11 unit: unit 17',
      '1-1 03 function: function 3: read holding registers',
      '2-3 00 6B offset: offset 107, the 108th holding register',
      '4-5 00 03 count: 3 holding registers',
      '6-7 76 87 crc: checksum, right',
      'Unit 17 is asked for 3 holding registers from offset 107.',
    ]);
    expect(rtu('00 06 00 01 00 02 58 1A')).toEqual([
      '0-0 00 unit: broadcast: every unit, and none answers',
      '1-1 06 function: function 6: write one register',
      '2-3 00 01 offset: offset 1, the 2nd holding register',
      '4-5 00 02 value: 2',
      '6-7 58 1A crc: checksum, right',
      'Every unit is told to set the holding register at offset 1 to 2.',
    ]);
    expect(rtu('11 03 02 00 07 00 00')).toEqual([
      '0-0 11 unit: unit 17',
      '1-1 03 function: function 3: read holding registers',
      '2-2 02 bytes: 2 data bytes follow',
      '3-4 00 07 data: 7',
      '5-6 00 00 crc: checksum, wrong: 38 45 was to be expected',
      '! The checksum is 00 00, but these bytes have 38 45: the frame is damaged or cut short.',
      'Unit 17 answers 7. The checksum is 00 00, but these bytes have 38 45: the frame is damaged or cut short.',
    ]);
    expect(rtu('')).toEqual([
      '! The frame ends after 0 bytes; the shortest has 4.',
      '! There is no function code.',
      'An unknown unit is named, and nothing more. The frame ends after 0 bytes; the shortest has 4.',
    ]);
    expect(rtu('11')).toEqual([
      '0-0 11 unit: unit 17',
      '! The frame ends after 1 byte; the shortest has 4.',
      '! There is no function code.',
      'Unit 17 is named, and nothing more. The frame ends after 1 byte; the shortest has 4.',
    ]);
    expect(rtu('11 03')).toEqual([
      '0-0 11 unit: unit 17',
      '1-1 03 leftover: belongs to no field',
      '! The frame ends after 2 bytes; the shortest has 4.',
      '! There is no function code.',
      'Unit 17 is named, and nothing more. The frame ends after 2 bytes; the shortest has 4.',
    ]);
    expect(rtu('11 03 00')).toEqual([
      '0-0 11 unit: unit 17',
      '1-2 03 00 leftover: belongs to no field',
      '! The frame ends after 3 bytes; the shortest has 4.',
      '! There is no function code.',
      'Unit 17 is named, and nothing more. The frame ends after 3 bytes; the shortest has 4.',
    ]);
  });

  it('in ASCII, two characters for each byte', () => {
    expect(ascii(':1103006B00037E\r\n')).toEqual([
      '0-0 3A start: a colon starts the frame',
      '1-2 31 31 unit: unit 17',
      '3-4 30 33 function: function 3: read holding registers',
      '5-8 30 30 36 42 offset: offset 107, the 108th holding register',
      '9-12 30 30 30 33 count: 3 holding registers',
      '13-14 37 45 lrc: checksum, right',
      '15-16 0D 0A end: carriage return and line feed end the frame',
      'Unit 17 is asked for 3 holding registers from offset 107.',
    ]);
    expect(ascii(':11830269\r\n')).toEqual([
      '0-0 3A start: a colon starts the frame',
      '1-2 31 31 unit: unit 17',
      '3-4 38 33 function: function 3, refused',
      '5-6 30 32 exception: exception 2, illegal data address: the device has no register at this address, or the request runs past its last one',
      '7-8 36 39 lrc: checksum, wrong: 6A was to be expected',
      '9-10 0D 0A end: carriage return and line feed end the frame',
      '! The checksum is 69, but these bytes have 6A: the frame is damaged or cut short.',
      'Unit 17 refuses function 3: exception 2, illegal data address: the device has no register at this address, or the request runs past its last one. The checksum is 69, but these bytes have 6A: the frame is damaged or cut short.',
    ]);
    expect(ascii(':110300\r\n')).toEqual([
      '0-0 3A start: a colon starts the frame',
      '1-2 31 31 unit: unit 17',
      '3-4 30 33 function: function 3: read holding registers',
      '5-6 30 30 lrc: checksum, wrong: EC was to be expected',
      '7-8 0D 0A end: carriage return and line feed end the frame',
      '! The checksum is 00, but these bytes have EC: the frame is damaged or cut short.',
      '! The frame ends too early: function 3 needs 5 bytes here, 1 is there.',
      'Unit 17 is spoken to with function 3, read holding registers. The checksum is 00, but these bytes have EC: the frame is damaged or cut short.',
    ]);
    expect(ascii('1103006B00037E\r\n')).toEqual([
      '0-1 31 31 unit: unit 17',
      '2-3 30 33 function: function 3: read holding registers',
      '4-7 30 30 36 42 offset: offset 107, the 108th holding register',
      '8-11 30 30 30 33 count: 3 holding registers',
      '12-13 37 45 lrc: checksum, right',
      '14-15 0D 0A end: carriage return and line feed end the frame',
      '! No colon starts the frame.',
      'Unit 17 is asked for 3 holding registers from offset 107. No colon starts the frame.',
    ]);
    expect(ascii(':1103006B00037E')).toEqual([
      '0-0 3A start: a colon starts the frame',
      '1-2 31 31 unit: unit 17',
      '3-4 30 33 function: function 3: read holding registers',
      '5-8 30 30 36 42 offset: offset 107, the 108th holding register',
      '9-12 30 30 30 33 count: 3 holding registers',
      '13-14 37 45 lrc: checksum, right',
      '! Carriage return and line feed are missing: the frame is cut short.',
      'Unit 17 is asked for 3 holding registers from offset 107. Carriage return and line feed are missing: the frame is cut short.',
    ]);
    expect(ascii(':11030\r\n')).toEqual([
      '0-0 3A start: a colon starts the frame',
      '1-5 31 31 30 33 30 leftover: belongs to no field',
      '6-7 0D 0A end: carriage return and line feed end the frame',
      '! Between the colon and the end there are no whole pairs of hex characters for unit, function and checksum.',
      '! There is no function code.',
      'An unknown unit is named, and nothing more. Between the colon and the end there are no whole pairs of hex characters for unit, function and checksum.',
    ]);
    expect(ascii(':11G3006B\r\n')).toEqual([
      '0-0 3A start: a colon starts the frame',
      '1-8 31 31 47 33 30 30 36 42 leftover: belongs to no field',
      '9-10 0D 0A end: carriage return and line feed end the frame',
      '! Between the colon and the end there are no whole pairs of hex characters for unit, function and checksum.',
      '! There is no function code.',
      'An unknown unit is named, and nothing more. Between the colon and the end there are no whole pairs of hex characters for unit, function and checksum.',
    ]);
    expect(ascii(':1103\r\n')).toEqual([
      '0-0 3A start: a colon starts the frame',
      '1-4 31 31 30 33 leftover: belongs to no field',
      '5-6 0D 0A end: carriage return and line feed end the frame',
      '! Between the colon and the end there are no whole pairs of hex characters for unit, function and checksum.',
      '! There is no function code.',
      'An unknown unit is named, and nothing more. Between the colon and the end there are no whole pairs of hex characters for unit, function and checksum.',
    ]);
    expect(ascii('\r\n')).toEqual([
      '0-1 0D 0A end: carriage return and line feed end the frame',
      '! No colon starts the frame.',
      '! Between the colon and the end there are no whole pairs of hex characters for unit, function and checksum.',
      '! There is no function code.',
      'An unknown unit is named, and nothing more. No colon starts the frame.',
    ]);
    expect(ascii('')).toEqual([
      '! No colon starts the frame.',
      '! Carriage return and line feed are missing: the frame is cut short.',
      '! Between the colon and the end there are no whole pairs of hex characters for unit, function and checksum.',
      '! There is no function code.',
      'An unknown unit is named, and nothing more. No colon starts the frame.',
    ]);
    expect(ascii(':00050001FF00FB\r\n')).toEqual([
      '0-0 3A start: a colon starts the frame',
      '1-2 30 30 unit: broadcast: every unit, and none answers',
      '3-4 30 35 function: function 5: write one coil',
      '5-8 30 30 30 31 offset: offset 1, the 2nd coil',
      '9-12 46 46 30 30 value: on',
      '13-14 46 42 lrc: checksum, right',
      '15-16 0D 0A end: carriage return and line feed end the frame',
      'Every unit is told to set the coil at offset 1 to on.',
    ]);
    expect(ascii(':1103006b00037e\r\n')).toEqual([
      '0-0 3A start: a colon starts the frame',
      '1-2 31 31 unit: unit 17',
      '3-4 30 33 function: function 3: read holding registers',
      '5-8 30 30 36 42 offset: offset 107, the 108th holding register',
      '9-12 30 30 30 33 count: 3 holding registers',
      '13-14 37 65 lrc: checksum, right',
      '15-16 0D 0A end: carriage return and line feed end the frame',
      'Unit 17 is asked for 3 holding registers from offset 107.',
    ]);
  });
});
