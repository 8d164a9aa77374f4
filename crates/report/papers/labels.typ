#import "house.typ": *
#set document(title: "Labels", author: data.shop, date: none)
#set page(paper: sys.inputs.size, margin: 12mm)
#set text(font: "Libertinus Serif", size: 10pt, fill: ink, lang: "en")

#grid(
  columns: (1fr, 1fr, 1fr), gutter: 4mm,
  ..data.labels.map(l => block(width: 100%, height: 31mm, breakable: false, stroke: (paint: luma(140), dash: "dotted"), inset: 6pt)[
    #grid(columns: (1fr, 15mm), gutter: 3pt)[
      #num(l.number) \
      #text(11.5pt, weight: "bold", l.part) \
      #text(8.5pt, fill: soft)[#l.at("where") \ #l.machine]
    ][#qr(15mm)]
  ])
)
