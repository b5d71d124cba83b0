import { createGlobalStyle } from 'styled-components';

const light = `
  --ground: #e4eaec;
  --surface: #fbfdfd;
  --raised: #eef3f4;
  --ink: #11232b;
  --muted: #475d67;
  --line: #bccad0;
  --action: #0b4f57;
  --on-action: #ffffff;
  --wash: #d3e3e5;
  --stop: #b8370f;
  --stop-wash: #f6ddd2;
  --soft: #855b00;
  --soft-wash: #f1e4c3;
  --rope: #5d7b84;
  --unseen: #8a9da5;
`;

const dark = `
  --ground: #0c1519;
  --surface: #142127;
  --raised: #1b2c33;
  --ink: #e7eff1;
  --muted: #a3b6bd;
  --line: #31474f;
  --action: #79c7cc;
  --on-action: #05262a;
  --wash: #1d3d43;
  --stop: #ff8560;
  --stop-wash: #4a2417;
  --soft: #e6b450;
  --soft-wash: #40330f;
  --rope: #8ba8b0;
  --unseen: #6b818a;
`;

/** Colour says only what happened (held, soft, stopped, not seen) and where one can act. Kinds are shapes. */
export const GlobalStyle = createGlobalStyle`
  :root { color-scheme: light; ${light} }
  @media (prefers-color-scheme: dark) { :root:not([data-theme='light']) { color-scheme: dark; ${dark} } }
  :root[data-theme='dark'] { color-scheme: dark; ${dark} }

  *, *::before, *::after { box-sizing: border-box; }
  html { font-size: 106.25%; -webkit-text-size-adjust: 100%; }
  body {
    margin: 0;
    background: var(--ground);
    color: var(--ink);
    font-family: 'Atkinson Hyperlegible Next Variable', sans-serif;
    font-variant-numeric: tabular-nums;
    line-height: 1.4;
  }
  h1, h2, h3, p, ol, ul, dl, dd, figure { margin: 0; padding: 0; }
  h1 { font-size: 1.7rem; line-height: 1.15; font-weight: 650; letter-spacing: -0.01em; }
  h2 { font-size: 1.15rem; line-height: 1.25; font-weight: 650; }
  h3 { font-size: 1rem; font-weight: 650; }
  ol, ul { list-style: none; }
  a { color: var(--action); }
  table { border-collapse: collapse; }
  button, input, select, textarea { font: inherit; color: inherit; }
  input[type='range'], input[type='checkbox'], input[type='radio'] { accent-color: var(--action); }
  :focus-visible, [data-focus-visible] { outline: 3px solid var(--action); outline-offset: 2px; }
  @media (prefers-reduced-motion: reduce) { * { animation: none !important; transition: none !important; } }
  @page { size: A4; margin: 12mm; }
  @media print { body { background: #fff; } main { padding: 0 !important; } [data-screen] { display: none !important; } }
`;

export type Theme = 'system' | 'light' | 'dark';
const key = 'ulkret-theme';

export const readTheme = (): Theme => {
  const kept = localStorage.getItem(key);
  return kept === 'light' || kept === 'dark' ? kept : 'system';
};

export function applyTheme(theme: Theme): void {
  localStorage.setItem(key, theme);
  if (theme === 'system') delete document.documentElement.dataset['theme'];
  else document.documentElement.dataset['theme'] = theme;
}
