const { join } = require('node:path');

// Counts go to a file that ./envoy test reads; Karma's own closing line is for people.
function countReporter(baseReporterDecorator) {
  baseReporterDecorator(this);
  const failures = [];
  this.onSpecComplete = (_browser, { success, skipped, suite, description, log }) => {
    if (!success && !skipped) failures.push(`${[...suite, description].join(' ')}: ${log[0]?.split('\n')[0] ?? 'no message'}`);
  };
  this.onBrowserError = (_browser, error) => failures.push(String(error?.message ?? error).split('\n')[0]);
  this.onRunComplete = (_browsers, results) => {
    const file = process.env.ENVOY_COUNTS;
    if (file)
      require('node:fs').writeFileSync(
        file,
        JSON.stringify({ passed: results.success, failed: results.failed + (results.error ? 1 : 0), failures }),
      );
  };
}
countReporter.$inject = ['baseReporterDecorator'];

process.env.CHROME_BIN ??= '/usr/bin/chromium';

module.exports = (config) =>
  config.set({
    basePath: join(__dirname),
    frameworks: ['jasmine'],
    plugins: [require('karma-jasmine'), require('karma-chrome-launcher'), { 'reporter:count': ['type', countReporter] }],
    reporters: ['dots', 'count'],
    browsers: ['Headless'],
    customLaunchers: {
      Headless: {
        base: 'ChromeHeadless',
        flags: [
          '--no-sandbox',
          '--disable-gpu',
          '--disable-quic',
          '--no-first-run',
          '--disable-background-networking',
          '--disable-component-update',
          '--disable-sync',
        ],
      },
    },
    // A machine that stalls for a moment is no defect of what is tested.
    client: { jasmine: { timeoutInterval: 30_000 } },
    restartOnFileChange: false,
  });
