// The stand-ins of a document, in a process of their own, until it is ended. Sent: { document, dead }.
import { wiringOf } from '../core/dist/playing/index.js';
import { Plant } from '../standins/dist/plant/index.js';

process.once('message', async ({ document, dead }) => {
  const plant = new Plant(wiringOf(document), Number(process.argv[2]));
  await plant.start();
  for (const id of dead) await plant.cutOff(id, true);
  process.send('ready');
});
process.on('disconnect', () => process.exit());
