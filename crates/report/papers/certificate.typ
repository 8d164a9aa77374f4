#import "house.typ": *
#show: house.with("Certificate of rebuild")

#if data.draft [#block(width: 100%, stroke: 1pt + ink, inset: 7pt)[*Draft:* this rebuild is not finished.]]
#grid(columns: (1fr, auto))[
  = Certificate of rebuild
  #v(2pt)
  #pairs(data.head)
][#qr(24mm)]
#v(6pt)
#image("section.svg", width: 100%)
#named

#for s in data.seats [
  #block(breakable: true)[
    == #s.name #num(s.bearing)
    #if s.surfaces.len() == 0 [#text(fill: soft)[Not measured.]] else [
      #table(
        columns: (auto, auto, auto, auto, auto, 1fr),
        [Surface], [Smallest], [Mean], [Largest], [Limits, #data.unit], [Instrument],
        ..s.surfaces.map(x => (x.name, num(x.min), num(x.mean), num(x.max), num(x.limit), x.gauge)).flatten()
      )
    ]
    #pairs(s.facts)
    #for r in s.remarks [- #r]
  ]
]

#if data.found_left.len() > 0 [
  == As found, as left
  #table(
    columns: (1fr, auto, auto, auto, auto),
    [What], [As found], [As left], [Change], [Limit],
    ..data.found_left.map(x => ([#x.what#if x.note != "" [ #text(8.5pt, fill: soft, x.note)]], num(x.found), num(x.left), num(x.change), [#num(x.limit) #text(8pt, fill: soft, x.source)])).flatten()
  )
]
#for part in data.parts [
  #if part.rows.len() > 0 [
    == #part.title
    #table(
      columns: (auto, auto, 1fr, auto),
      ..part.head.map(h => [#h]),
      ..part.rows.map(r => r.map(c => text(9.5pt, c))).flatten()
    )
  ]
]
#if data.instruments.len() > 0 [
  == Instruments
  #table(
    columns: (1fr, auto, auto, auto),
    [Instrument], [Serial number], [Uncertainty, k = 2], [Calibration until],
    ..data.instruments.map(i => (i.name, num(i.serial), num(i.u), num(i.due))).flatten()
  )
]
#if data.pictures.len() > 0 [
  == Pictures
  #grid(
    columns: (1fr, 1fr, 1fr), gutter: 8pt,
    ..data.pictures.map(p => block(breakable: false)[#image(p.file, width: 100%, height: 42mm, fit: "contain") #text(8.5pt, fill: soft)[#p.of, #p.by]])
  )
]
#for r in data.remarks [- #r]
#v(8pt)
#text(9pt, fill: soft)[#data.guard #data.estimates]
#block(above: 8pt)[#if data.whole [Record whole: ] else [*Record:* ]#num(data.record)]
