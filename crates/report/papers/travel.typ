#import "house.typ": *
#show: house.with("Travel sheet")

#grid(columns: (1fr, auto))[
  = Travel sheet
  #v(2pt)
  #pairs(data.head)
  #v(4pt)
  #text(9.5pt)[For a bench without power. What is written here is typed in afterwards; the square leads to the rebuild. #data.first]
][#qr(26mm)]
#v(4pt)
#image("section.svg", width: 100%)
#named

#for stage in data.stages [
  == #stage.word
  #table(
    columns: (8mm, 1fr, 44mm, 18mm),
    align: (center, left, left, left),
    [], [Act], [Read], [Who],
    ..stage.acts.map(a => (
      if a.done { text(11pt)[✓] } else { box(width: 9pt, height: 9pt, stroke: 0.9pt + ink) },
      [#a.words#if a.caution != "" [ \ #text(8.8pt)[*Caution:* #a.caution]]#if a.given.len() > 0 [ \ #text(8.8pt, fill: soft, a.given.join("; "))]],
      if a.done [#num(a.read)#a.said] else if a.choices.len() > 0 [
        #text(8.5pt, a.choices.map(c => box[#box(width: 7pt, height: 7pt, stroke: 0.8pt + ink) #c]).join("  "))
      ] else if a.boxes > 0 [
        #for _ in range(a.boxes) [#box(width: 12mm, height: 6mm, stroke: 0.7pt + ink) ]
        #text(8pt, fill: soft)[#a.unit #a.limit]
      ] else [],
      text(8.5pt, a.by),
    )).flatten()
  )
]
