// How every paper of the house looks: ink on white, readable in black and white, figures in one width.
#let data = json(bytes(sys.inputs.data))
#let ink = luma(20)
#let soft = luma(90)

#let house(title, body) = {
  set document(title: title + " " + data.at("number", default: ""), author: data.shop, date: none)
  set page(
    paper: sys.inputs.size,
    margin: (x: 18mm, top: 20mm, bottom: 20mm),
    header: text(9pt, fill: soft)[#data.shop #h(1fr) #title #data.at("number", default: "")],
    footer: context text(8pt, fill: soft)[
      #data.at("chain", default: "") #h(1fr) page #counter(page).display() of #counter(page).final().first()
    ],
  )
  set text(font: "Libertinus Serif", size: 10.5pt, fill: ink, lang: "en")
  set par(leading: 0.55em)
  set table(stroke: (x, y) => (bottom: 0.4pt + luma(170)), inset: (x: 3pt, y: 4pt), align: left)
  show table.cell.where(y: 0): set text(9pt, fill: soft)
  show heading.where(level: 1): set text(19pt)
  show heading.where(level: 2): it => block(above: 14pt, below: 7pt, text(12.5pt, weight: "bold", it.body))
  body
}

#let num(it) = text(font: "DejaVu Sans Mono", size: 8.6pt, it)
#let pairs(list) = grid(
  columns: (auto, 1fr), column-gutter: 12pt, row-gutter: 6pt,
  ..list.filter(p => p.at(1) != "").map(p => (text(9pt, fill: soft, p.at(0)), p.at(1))).flatten()
)
// The parts by the numbers of the drawing.
#let named = text(8.5pt, fill: soft, data.at("named", default: ()).enumerate().map(((i, n)) => [#num[#(i + 1)] #n]).join([#h(5pt) ]))
#let qr(size) = image("qr.svg", width: size)
