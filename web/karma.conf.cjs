// Karma for the web specs: Debian's Chromium, headless, quiet without a network; results as JSON for ./test.
const { writeFileSync } = require('node:fs');

process.env.CHROME_BIN ??= '/usr/bin/chromium';

function ResultFile() {
  const sum = { passed: 0, failed: 0, skipped: 0, failures: [] };
  this.onSpecComplete = (_browser, result) => {
    if (!result.skipped && !result.success) {
      sum.failures.push([...result.suite, result.description, result.log[0]].join(' ').slice(0, 600));
    }
    sum[result.skipped ? 'skipped' : result.success ? 'passed' : 'failed'] += 1;
  };
  this.onBrowserError = () => (sum.failed += 1);
  this.onRunComplete = () => {
    const file = process.env.JUNCTA_TEST_RESULT;
    if (file) writeFileSync(file, JSON.stringify(sum));
  };
}

module.exports = (config) =>
  config.set({
    frameworks: ['jasmine'],
    plugins: [
      require('karma-jasmine'),
      require('karma-chrome-launcher'),
      { 'reporter:result-file': ['type', ResultFile] },
    ],
    reporters: ['dots', 'result-file'],
    browsers: ['Chromium'],
    customLaunchers: {
      Chromium: {
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
    hostname: '127.0.0.1',
    listenAddress: '127.0.0.1',
    port: Number(process.env.JUNCTA_TEST_PORT ?? 9876),
    // A machine may be slow; what never comes about is a fault at any speed.
    client: { jasmine: { random: true, failSpecWithNoExpectations: true, timeoutInterval: 30_000 } },
    // Also where one is focused, which leaves all others out.
    failOnSkippedTests: true,
    singleRun: true,
    restartOnFileChange: false,
  });
