/**
 * The HTTP client of feeds. When it is loaded first, its package puts connections of its own beneath the `fetch` of
 * the whole process, which come from another version than the runtime expects: so the runtime's stand first.
 */
void globalThis.Response;
const { Agent, request } = await import('undici');

export { Agent, request };
