import fc from 'fast-check';

/** Fragments as mail programs, editors and careless hands produce them. */
const LINKS = [
  '<a href="https://tallowreed.example/felt?a=1&amp;b=2">felt</a>',
  "<a href='http://brennan.example/hall' target=_blank>the hall</a>",
  '<a class=x href=https://tallowreed.example/data>data</a>',
  '<a href=https://tallowreed.example/slash/>slash</a>',
  '<A HREF = "https://tallowreed.example/Caps" >CAPS</A>',
  '<a href="  https://tallowreed.example/spaces \n">spaces</a>',
  '<a href="https://one.example/" href="https://two.example/">twice</a>',
  '<a href="https://tallowreed.example/&quot;q&quot;">quoted</a>',
  '<a href="//proto.example/x">relative to the scheme</a>',
  '<a href="sheet.html">relative</a>',
  '<area shape="rect" coords="0,0,1,1" href="https://tallowreed.example/map" alt="plan">',
  '<a href="mailto:ines@tallowreed.example">write</a>',
  '<a href="tel:+0055500142">call</a>',
  '<a href="#below">below</a>',
  '<a href="cid:part1">picture</a>',
  '<a href="data:text/html,x">data</a>',
  '<a href="javascript:void(0)">script</a>',
  '<a href>empty</a>',
  '<a href="">blank</a>',
  '<a name="here">anchor</a>',
  '<a href="https://nested.example/1"><p>block<a href="https://nested.example/2">inner</a></p></a>',
  '<a href="https://open.example/',
  '<a href="https://unclosed.example/">never closed',
  '<a href="https://tallowreed.example/picture"><img src="cid:p" alt="the colour card"></a>',
];
const PIECES = [
  ...LINKS,
  '<!doctype html>',
  '<html lang="en">',
  '<head><title>Felt &amp; reed</title></head>',
  '<base href="https://base.example/dir/">',
  '<body bgcolor="#fff">',
  '</body></html>',
  '<p>Dear Marit,',
  '</p>',
  '<b><i>wrong</b></i>',
  '<table><tr><td>cell',
  '<table>stray text<a href="https://foster.example/">foster</a></table>',
  '<!--[if mso]><a href="https://mso.example/">mso</a><![endif]-->',
  '<![if !mso]>shown<![endif]>',
  '<!-- open comment',
  '<style>a { color: red }</style>',
  '<script>"<a href=https://no.example/>"</script>',
  '<textarea><a href="https://no.example/">not a link</a></textarea>',
  '<frameset><frame></frameset>',
  '<select><option>one',
  '<svg><a href="https://svg.example/"><text>drawn</text></a></svg>',
  '<template><a href="https://template.example/">hidden</a></template>',
  '<pre>\n  kept  </pre>',
  '&nbsp;&copy &#x1F600; &unknown;',
  'Grüße, 気楽 \u202e\u0000 ',
  '\r\n\t ',
  '<',
  '<p title="a>b" / >',
];

/** Whole messages and broken ones: pieces in any order. */
export const messageHtml = fc
  .array(fc.oneof({ weight: 6, arbitrary: fc.constantFrom(...PIECES) }, { weight: 1, arbitrary: fc.string() }), {
    maxLength: 14,
  })
  .map((pieces) => pieces.join(''));
