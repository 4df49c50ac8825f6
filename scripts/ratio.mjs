/** A line of a benchmark that `npm run bench` puts into its table: how many times as much as the peer named after `÷`. */
export function ratio(what, value) {
  console.log(`  ratio ${value.toFixed(2)}  ${what}`);
}
