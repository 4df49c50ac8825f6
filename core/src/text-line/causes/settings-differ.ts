import { formatSettings } from '../../line/index.js';
import type { TextCause } from './definition.js';

export const settingsDiffer: TextCause = {
  id: 'text-settings-differ',
  at: 'port',
  find: ({ device, port, hears, sends, sound }) => {
    const { framingErrors, parityErrors, bytes } = port;
    const wrong = framingErrors + parityErrors;
    if (wrong === 0 || wrong * 20 < bytes) return null;
    const known =
      sends && formatSettings(sends) !== formatSettings(hears)
        ? ` It is set to ${formatSettings(sends)}, the port to ${formatSettings(hears)}.`
        : '';
    if (framingErrors > parityErrors)
      return {
        message: `Of ${bytes + wrong} characters from ${device}, ${framingErrors} have no stop bit where the port looks for it.${known}`,
        mend: 'Set both to the same speed; then to as many bits.',
      };
    return {
      message: `Of ${bytes + wrong} characters from ${device}, ${parityErrors} have another parity than the port expects, so ${sound === 0 ? 'no text is whole' : 'many texts are not whole'}.${known}`,
      mend: 'Set both to the same parity and as many bits: seven bits with parity are not eight without.',
    };
  },
};
