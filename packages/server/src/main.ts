import { readConfig } from './config.ts';
import { StartError, startServer } from './server.ts';

/** Runs the server with its set-up from the environment. */
try {
  const server = await startServer(readConfig(process.env));
  process.send?.({ ready: server.url });
  console.log(`Chronicon at ${server.url}`);
  const stop = () => {
    server.close().then(() => process.exit(0));
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'disconnect'] as const) process.on(signal, stop);
} catch (error) {
  console.error(error instanceof StartError ? error.message : error);
  process.exit(1);
}
