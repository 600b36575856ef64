// A set of documents of a job, set from its blocks (JSON): nothing of a job is markup here.

#let given = json(bytes(sys.inputs.given))
#let ink = rgb("#12201f")
#let soft = rgb("#475654")
#let tones = (
  plain: ink, soft: soft, strong: ink, caution: soft,
  fail: rgb("#a3261c"), check: rgb("#7d5206"), incomplete: soft,
)

#set document(title: given.title, author: given.author)
#set text(font: ("B612", "DejaVu Sans Mono"), size: 8.5pt, fill: ink, lang: given.language)
#set par(leading: 0.55em, spacing: 0.8em)
#set page(
  paper: given.paper,
  margin: (x: 15mm, top: 16mm, bottom: 20mm),
  footer: context {
    set text(size: 7pt, fill: soft)
    line(length: 100%, stroke: 0.4pt + soft)
    grid(columns: (1fr, auto), given.footer,
      given.page.replace("{n}", str(counter(page).get().first()))
        .replace("{all}", str(counter(page).final().first())))
  },
)
#show heading.where(level: 1): it => {
  pagebreak(weak: true)
  block(below: 0.9em, text(size: 15pt, it.body))
}
#show heading.where(level: 2): it => block(above: 1.6em, below: 0.7em, text(size: 11pt, it.body))
#show heading.where(level: 3): it => block(
  above: 1.2em, below: 0.5em, width: 100%, stroke: (bottom: 0.8pt + ink), inset: (bottom: 2pt),
  text(size: 9pt, it.body))

#let large = 0.68pt // of a unit of a drawing: type of 12 units is 8 points
#let small = 0.55pt // smaller than this a drawing is laid out in tiles
#let room = 60pt // for the heading above it
#let overlap = 24 // units that neighbours both show

// a drawing on one sheet, or in tiles that are read row by row
#let drawn(b) = layout(area => {
  let source = bytes(b.svg)
  let fits = calc.min(area.width / b.width, (area.height - room) / b.height, large)
  if fits >= small {
    image(source, format: "svg", width: b.width * fits, alt: b.says)
  } else {
    let tall = area.height - room
    let needed(side, page, scale) = calc.max(
      1, calc.ceil((side - overlap) / (page / scale - overlap) - 0.001))
    // a little smaller where that saves a row or a column of tiles
    let just(side, page) = range(1, 60).map(n => page * n / (side + overlap * (n - 1)))
      .filter(scale => small <= scale and scale <= large)
    let tile = (large, ..just(b.width, area.width), ..just(b.height, tall)).sorted(key: scale =>
      (needed(b.width, area.width, scale) * needed(b.height, tall, scale), -scale.pt())).first()
    let across = area.width / tile - overlap
    let down = tall / tile - overlap
    let columns = needed(b.width, area.width, tile)
    let rows = needed(b.height, tall, tile)
    for row in range(rows) {
      for column in range(columns) {
        let name = "ABCDEFGHIJKLMNOPQRSTUVWXYZ".at(calc.rem(row, 26)) + str(column + 1)
        block(breakable: false, {
          text(size: 7pt, fill: soft, given.tile.replace("{tile}", name)
            .replace("{rows}", str(rows)).replace("{columns}", str(columns)))
          block(width: (across + overlap) * tile, height: (down + overlap) * tile, clip: true,
            stroke: 0.3pt + soft,
            place(top + left, dx: -column * across * tile, dy: -row * down * tile,
              image(source, format: "svg", width: b.width * tile, height: b.height * tile,
                alt: b.says + " " + name)))
        })
      }
    }
  }
})

#let strong_(body) = text(weight: "bold", body)

#set table.cell(breakable: false) // a row stands on one page
#let ruled(b) = {
  let head = if b.head.len() > 0 {
    (table.header(..b.head.enumerate().map(((n, words)) => table.cell(
      align: if n in b.numbers { right } else { left },
      text(size: 7pt, weight: "bold", fill: soft, words)))),)
  } else { () }
  table(
    columns: b.widths.map(w => w * 1fr),
    stroke: (x, y) => (bottom: 0.3pt + rgb("#c3ccc9")),
    inset: (x: 3pt, y: if b.tall { 5.6pt } else { 2.6pt }),
    ..head,
    ..b.rows.enumerate().map(((n, row)) => row.enumerate().map(((m, words)) => table.cell(
      align: if m in b.numbers { right } else { left },
      if n in b.sums { strong_(words) } else { words }))).flatten(),
  )
}

#let facts(b) = {
  let pairs = b.pairs.map(((what, much)) => box[#text(fill: soft, what)#h(0.5em)#strong_(much)#h(1.8em)])
  block(width: 100%, inset: if b.boxed { 6pt } else { (y: 4pt) },
    stroke: if b.boxed { 1pt + ink } else { (y: 0.5pt + ink) },
    par(leading: 0.75em, pairs.join()))
}

#for b in given.blocks {
  if b.block == "heading" { heading(level: b.level, b.text) }
  else if b.block == "words" {
    let body = text(fill: tones.at(b.tone), b.text)
    if b.tone == "strong" { strong_(body) } else { par(body) }
  }
  else if b.block == "facts" { facts(b) }
  else if b.block == "grid" { ruled(b) }
  else if b.block == "picture" { drawn(b) }
  else if b.block == "contents" {
    v(6pt)
    text(size: 9pt, weight: "bold", b.title)
    columns(2, gutter: 14pt, { set text(size: 7.5pt); outline(title: none, depth: 2) })
  }
  else if b.block == "signatures" {
    v(24pt)
    grid(columns: b.labels.map(_ => 1fr), column-gutter: 12pt,
      ..b.labels.map(words => block(width: 100%, stroke: (top: 0.6pt + ink), inset: (top: 3pt),
        text(size: 7pt, fill: soft, words))))
  }
}
