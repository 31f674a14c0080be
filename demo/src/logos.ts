/** Marks of the demo's clients, drawn for it. */
export const LOGOS = {
  skerrybound: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 48"><title>Skerrybound Ferries</title>
<path fill="#1f5f99" d="M6 28h36l-6 11H12z"/><path fill="#1f5f99" d="M14 19h20v6H14z"/><rect x="20" y="10" width="8" height="7" fill="#e0762e"/>
<path fill="none" stroke="#7fb3d8" stroke-width="2.4" d="M4 44c4-3 8-3 12 0s8 3 12 0 8-3 12 0"/></svg>`,
  mosswick: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 48"><title>Mosswick Botanic Garden</title>
<path fill="#2f6b3a" d="M22 44C6 38 3 22 8 10c11 4 18 16 14 34z"/><path fill="#6fa05a" d="M26 44c-3-16 4-30 18-36 3 14-2 30-18 36z"/></svg>`,
  quillon: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 48"><title>Quillon Cycle Works</title>
<circle cx="24" cy="24" r="18" fill="none" stroke="#b07d12" stroke-width="4"/><path fill="none" stroke="#33302a" stroke-width="3" d="M24 6v36M6 24h36M11 11l26 26M37 11L11 37"/>
<circle cx="24" cy="24" r="5" fill="#33302a"/></svg>`,
  brackenhollow: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 48"><title>Brackenhollow Physio</title>
<path fill="none" stroke="#157f7a" stroke-width="5" d="M10 40c0-14 6-18 14-18s14-4 14-16"/><circle cx="10" cy="12" r="6" fill="#e39b4b"/><circle cx="38" cy="38" r="6" fill="#157f7a"/></svg>`,
  oatmere: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 48"><title>Oatmere Dairy Co-op</title>
<path fill="#a8452f" d="M17 4h14v7l5 9v20a4 4 0 0 1-4 4H16a4 4 0 0 1-4-4V20l5-9z"/><path fill="#f4e6cf" d="M16 25h16v13H16z"/></svg>`,
  nightjar: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 48"><title>Nightjar Rail Holidays</title>
<path fill="#5b4a91" d="M24 5a19 19 0 1 0 19 19A15 15 0 0 1 24 5z"/><path fill="none" stroke="#c9a24a" stroke-width="3" d="M28 44L36 14M38 44l4-20M30 36h11M33 26h9"/></svg>`,
} as const;
