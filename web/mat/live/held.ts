/** How the device is held: a phone on its side, or a page at 200 %, which has as little height. Said last, it counts most. */
export const sideways = '@media (max-height: 520px) and (orientation: landscape)';
/** An upright tablet or phone. */
export const upright = '@media (max-width: 1000px) and (orientation: portrait)';
/** As narrow as a phone. */
export const narrow = '@media (max-width: 760px)';
/** A phone of which a browser takes a part, or a short one. */
export const short = '@media (max-height: 720px) and (orientation: portrait)';
