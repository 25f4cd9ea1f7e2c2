const HEX = /^#(?:[0-9a-f]{3,4}|[0-9a-f]{6}|[0-9a-f]{8,9}|[0-9a-f]{12})$/i;
const FUNCTION = /^(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color|color-mix|light-dark)\([^()]*\)$/i;
const OF_X11 = /^rgbi?:[0-9a-f.]{1,6}\/[0-9a-f.]{1,6}\/[0-9a-f.]{1,6}$/i;
/** The names of CSS Color Module Level 4, section 6.1; each `gray` may be written `gray`. */
const NAMES: ReadonlySet<string> = new Set(
  `
    aliceblue antiquewhite aqua aquamarine azure beige bisque black blanchedalmond blue blueviolet brown burlywood cadetblue
    chartreuse chocolate coral cornflowerblue cornsilk crimson cyan darkblue darkcyan darkgoldenrod darkgray darkgreen darkkhaki
    darkmagenta darkolivegreen darkorange darkorchid darkred darksalmon darkseagreen darkslateblue darkslategray darkturquoise
    darkviolet deeppink deepskyblue dimgray dodgerblue firebrick floralwhite forestgreen fuchsia gainsboro ghostwhite gold goldenrod
    gray green greenyellow honeydew hotpink indianred indigo ivory khaki lavender lavenderblush lawngreen lemonchiffon lightblue
    lightcoral lightcyan lightgoldenrodyellow lightgray lightgreen lightpink lightsalmon lightseagreen lightskyblue lightslategray
    lightsteelblue lightyellow lime limegreen linen magenta maroon mediumaquamarine mediumblue mediumorchid mediumpurple
    mediumseagreen mediumslateblue mediumspringgreen mediumturquoise mediumvioletred midnightblue mintcream mistyrose moccasin
    navajowhite navy oldlace olive olivedrab orange orangered orchid palegoldenrod palegreen paleturquoise palevioletred papayawhip
    peachpuff peru pink plum powderblue purple rebeccapurple red rosybrown royalblue saddlebrown salmon sandybrown seagreen seashell
    sienna silver skyblue slateblue slategray snow springgreen steelblue tan teal thistle tomato turquoise violet wheat white
    whitesmoke yellow yellowgreen
    transparent currentcolor
  `
    .trim()
    .split(/\s+/),
);

/**
 * Whether a text is a color in the notations of CSS (CSS Color Module Level 4, section 4) or of X11 (Xlib, section 6.4):
 * `#336699`, `rgb(51 102 153)`, `rgb:33/66/99`, `steelblue`, `Steel Blue`, `gray85`, `red3`.
 */
export function isColor(text: string): boolean {
  if (HEX.test(text) || FUNCTION.test(text) || OF_X11.test(text)) return true;
  const word = text.toLowerCase().replaceAll(' ', '').replace('grey', 'gray');
  return NAMES.has(word) || /^gray(?:\d\d?|100)$/.test(word) || (/[1-4]$/.test(word) && NAMES.has(word.slice(0, -1)));
}
