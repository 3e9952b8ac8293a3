import { makeLog } from '@juncta/runtime/log';
import { readRelayConfig } from './config';
import { Relay } from './relay';

async function main(): Promise<void> {
  const config = readRelayConfig(process.env);
  const log = makeLog('relay', config.logLevel);
  const running = await Relay.start(config, log);
  log.info(
    { port: running.port, controlPort: running.controlPort, ingestPort: running.ingestPort },
    'listening',
  );
  let closing = false;
  for (const signal of ['SIGTERM', 'SIGINT'] as const) {
    process.on(signal, () => {
      if (closing) return;
      closing = true;
      void running.close().then(() => process.exit(0));
    });
  }
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
