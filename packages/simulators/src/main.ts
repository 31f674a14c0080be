import { startStandins } from './index.ts';

/** Runs the stand-ins in a process of their own; set-up comes from the environment. */
const number = (name: string, otherwise: number) => Number(process.env[name] ?? otherwise);
const data = process.env.CHRONICON_STANDINS_DATA;

const standins = await startStandins({
  port: number('CHRONICON_STANDINS_PORT', 4310),
  smtpPort: number('CHRONICON_SMTP_PORT', 4325),
  offset: number('CHRONICON_CLOCK_OFFSET', 0),
  ...(data && { data }),
});
const back = number('CHRONICON_BOUNCE_PORT', 0);
if (back > 0) standins.smtp.backTo = back;
process.send?.({ ready: standins.url });
console.log(`stand-ins at ${standins.url}`);
process.on('disconnect', () => process.exit(0));
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    standins.close().then(() => process.exit(0));
  });
}
