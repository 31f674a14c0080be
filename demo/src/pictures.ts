/** Pictures that stand on the demo's pages, drawn for it. */
export const LANTERNS = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 120"><title>Lantern evenings</title>
<rect x="0" y="0" width="200" height="120" fill="#1c3526"/>
<path fill="#0f2117" d="M14 120L20 30L26 120zM170 120L177 22L184 120z"/>
<path fill="#27503a" d="M0 44C10 20 34 18 44 40C36 52 12 56 0 44zM156 36C166 12 192 10 200 30L200 46C186 52 166 50 156 36z"/>
<path fill="none" stroke="#8a7a4a" stroke-width="1.2" d="M20 42C60 70 130 70 177 38"/>
<path fill="#f2c14e" d="M52 60h12v16h-12zM92 66h14v18h-14zM134 58h12v16h-12z"/>
<path fill="#f7e3a1" d="M55 63h6v10h-6zM96 70h6v10h-6zM137 61h6v10h-6z"/>
<path fill="#b8862d" d="M51 58h14v3h-14zM91 64h16v3h-16zM133 56h14v3h-14zM51 75h14v3h-14zM91 83h16v3h-16zM133 73h14v3h-14z"/>
<path fill="#0f2117" d="M0 120C40 104 150 104 200 120z"/></svg>`;
