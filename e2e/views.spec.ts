import { expect, test } from './instance';
import { enterDemo } from './steps';

const sizes = [
  [390, 844],
  [844, 390],
  [800, 1280],
  [640, 400],
  [1280, 800],
] as const;

const views = [
  '/',
  '/library',
  '/library/rear-strangle',
  '/mat',
  '/mat/new',
  '/readings',
  '/readings/rear-strangle',
  '/readings/rear-strangle/amara',
  '/readings/rear-strangle/at/hand-behind-head',
  '/people',
  '/people/amara',
  '/data',
  '/rules',
  '/who-may',
  '/who-looked',
  '/keeping',
  '/account',
] as const;

/** What is wrong with how a page lies, read off its boxes: in words, so that a failure says what to look at. */
function faultsOfLayout(): string[] {
  const named = (one: Element) =>
    (one.getAttribute('aria-label') ?? one.textContent ?? '').trim().slice(0, 40);
  const isScrolled = (one: Element | null): boolean =>
    one !== null && (/auto|scroll/.test(getComputedStyle(one).overflowX) || isScrolled(one.parentElement));
  const shown = [...document.querySelectorAll('main *')].filter((one) => {
    const { width, height } = one.getBoundingClientRect();
    return width > 0 && height > 0 && getComputedStyle(one).clipPath === 'none';
  });
  const pressed = shown.filter((one) =>
    one.matches('a, button, input, textarea, [role=radio], label, summary'),
  );
  const doors = [...document.querySelectorAll('nav[aria-label="Places"] :is(a, button)')].filter(
    (one) => one.getBoundingClientRect().height > 0,
  );
  return [
    ...doors.flatMap((one) => {
      const { top, bottom } = one.getBoundingClientRect();
      return top < -1 || bottom > innerHeight + 1 ? [`“${named(one)}” of the rail is out of view`] : [];
    }),
    ...(document.documentElement.scrollWidth > innerWidth + 1
      ? [`the page scrolls sideways, to ${document.documentElement.scrollWidth}`]
      : []),
    ...pressed.flatMap((one) => {
      const { left, right, width, height } = one.getBoundingClientRect();
      const inText = getComputedStyle(one).display === 'inline';
      return [
        ...(!inText && !one.closest('label') && (height < 23.5 || width < 23.5)
          ? [`“${named(one)}” is ${Math.round(width)} × ${Math.round(height)}`]
          : []),
        ...((left < -1 || right > innerWidth + 1) && !isScrolled(one.parentElement)
          ? [`“${named(one)}” is cut at the side`]
          : []),
      ];
    }),
    // Rows of a fixed height whose words do not fit lie over the next one.
    ...shown.flatMap((one) =>
      one.matches('ol > li') && one.scrollHeight > one.clientHeight + 2
        ? [`“${named(one)}” is higher than its row`]
        : [],
    ),
    ...shown.flatMap((one) =>
      one.matches('h1, h2, th, button, a') &&
      one.scrollWidth > one.clientWidth + 2 &&
      getComputedStyle(one).overflowX === 'hidden'
        ? [`“${named(one)}” is cut`]
        : [],
    ),
  ];
}

for (const [width, height] of sizes)
  test(`no page overlaps, is cut or scrolls sideways at ${width} × ${height}`, async ({ page, demo }) => {
    await page.setViewportSize({ width, height });
    await enterDemo(page, demo.url);
    const found: string[] = [];
    for (const view of views) {
      await page.goto(demo.url + view);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      await expect(page.getByText(/^Loading /)).toHaveCount(0);
      let faults: string[] = [];
      // What is refined in place may still be on its way.
      for (let tries = 0; tries < 6; tries++) {
        faults = await page.evaluate(faultsOfLayout);
        if (faults.length === 0) break;
        await page.waitForTimeout(400);
      }
      found.push(...faults.map((fault) => `${view}: ${fault}`));
    }
    expect(found).toEqual([]);
  });
