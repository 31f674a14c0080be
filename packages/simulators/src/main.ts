import { startSimulators } from './index.ts';

/** Runs the simulators in a process of their own; set-up comes from the environment. */
const { env } = process;
const number = (name: string, otherwise: number) => Number(env[name] ?? otherwise);
// Both have a former name, which goes on working.
const data = env.CHRONICON_SIMULATORS_DATA ?? env.CHRONICON_STANDINS_DATA;

const simulators = await startSimulators({
  port: number('CHRONICON_SIMULATORS_PORT', number('CHRONICON_STANDINS_PORT', 4310)),
  smtpPort: number('CHRONICON_SMTP_PORT', 4325),
  offset: number('CHRONICON_CLOCK_OFFSET', 0),
  ...(data && { data }),
});
const back = number('CHRONICON_BOUNCE_PORT', 0);
if (back > 0) simulators.smtp.backTo = back;
process.send?.({ ready: simulators.url });
console.log(`simulators at ${simulators.url}`);
process.on('disconnect', () => process.exit(0));
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    simulators.close().then(() => process.exit(0));
  });
}
