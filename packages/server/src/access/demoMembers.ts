/** The sign-ins of the demo agency. The page offers them only where the server was started as a demo. */
export const DEMO_MEMBERS = [
  { name: 'Ines Tallow', email: 'ines.tallow@fernglass.example', password: 'lantern-evening-42', role: 'owner' },
  { name: 'Joren Vask', email: 'joren.vask@fernglass.example', password: 'copper-kettle-17', role: 'manager' },
  { name: 'Mirel Oke', email: 'mirel.oke@fernglass.example', password: 'quiet-harbour-88', role: 'reviewer' },
] as const satisfies readonly { name: string; email: string; password: string; role: string }[];

/** The access token that the demo's services take. */
export const DEMO_SERVICE_TOKEN = 'wa-token-fernglass';
