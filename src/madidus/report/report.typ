// Sets a report. All texts come as data: nothing in them is markup, and nothing is fetched.
#let report = json("report.json")
#let ink = rgb("#1D2427")
#let quiet = rgb("#4E5050")
#let rule = rgb("#A39A86")
#let pale = rgb("#CFC8B8")
#set document(
  title: report.title, author: report.author, keywords: report.keywords, date: datetime(
    year: report.date.at(0), month: report.date.at(1), day: report.date.at(2),
  ),
)
#set text(font: ("DejaVu Sans", "DejaVu Sans Mono"), size: 8pt, fill: ink, lang: "en", hyphenate: false)
#set par(leading: 0.55em, spacing: 0.9em)
#set heading(numbering: none)
#show heading.where(level: 1): it => block(
  width: 100%, above: 0pt, below: 8pt, inset: (bottom: 3pt), stroke: (bottom: 0.8pt + ink), text(13pt, it.body),
)
#show heading.where(level: 2): it => block(above: 12pt, below: 5pt, sticky: true, text(9pt, it.body))
#show heading.where(level: 3): it => block(above: 10pt, below: 4pt, sticky: true, text(8pt, it.body))
#show outline.entry: it => it
#let foot = context {
  set text(6.5pt, fill: quiet)
  grid(columns: (1fr, auto, auto), gutter: 6mm, report.foot, report.day,
    [#counter(page).get().first() of #counter(page).final().first()])
}
#let banner = if report.banner != "" { align(center, text(8pt, weight: "bold", "▲ " + report.banner)) }
#set page(
  width: report.paper.at(0) * 1mm, height: report.paper.at(1) * 1mm,
  margin: (x: 15mm, top: 16mm, bottom: 16mm), header: banner, footer: foot,
)
// a unit stays in one piece
#let titled(h) = {
  let words = h.split(" ")
  strong(words.slice(0, -1).join(" ") + if words.len() > 1 { " " } + box(words.last()))
}
#let tabled(b) = {
  heading(level: b.level, outlined: false, bookmarked: true, b.title)
  if b.rows.len() == 0 { text(fill: quiet, "none") } else {
    set text(6.4pt)
    table(
      columns: b.widths.map(w => w * 1fr), stroke: (bottom: 0.2pt + pale, rest: none), inset: (x: 2.5pt, y: 1.7pt),
      align: (x, y) => if b.right.at(x) { right } else { left },
      ..if b.head.any(h => h.trim() != "") {
        (table.header(..b.head.map(titled), table.hline(stroke: 0.7pt + ink)),)
      },
      ..b.rows.flatten(),
      table.hline(stroke: 0.4pt + rule),
    )
  }
}
#let placed(b) = {
  if b.is == "text" {
    if b.look == "title" {
      show heading: it => block(above: 8pt, below: 12pt, text(22pt, it.body))
      heading(level: 1, outlined: false, bookmarked: true, b.text)
    }
    else if b.look == "strong" { par(strong(b.text)) }
    else if b.look == "quiet" { par(text(fill: quiet, b.text)) }
    else { par(b.text) }
  } else if b.is == "subheading" { heading(level: 2, outlined: false, b.text) }
  else if b.is == "contents" { {
    v(14pt)
    outline(title: "Contents", depth: 1)
  } }
  else if b.is == "table" { tabled(b) }
  else if b.is == "picture" {
    let drawn = image(b.file, width: b.wide * 1mm, height: b.high * 1mm, alt: b.says)
    if b.wide < 88 { box(inset: (right: 4mm, y: 2pt), drawn) } else { block(above: 6pt, below: 6pt, breakable: false, drawn) }
  }
}
#for (k, part) in report.sections.enumerate() {
  let sheets = part.blocks.filter(b => b.is == "page")
  let rest = part.blocks.filter(b => b.is != "page")
  if rest.len() > 0 {
    if part.fresh { pagebreak(weak: true) } else { v(16pt) }
    if part.listed { heading(level: 1, part.heading) }
    for b in rest { placed(b) }
  }
  for (i, b) in sheets.enumerate() {
    page(width: b.wide * 1mm, height: b.high * 1mm, margin: 0mm, header: none, footer: none, {
      if i == 0 and rest.len() == 0 {
        place(hide(heading(level: 1, part.heading)))
      }
      image(b.file, width: 100%, height: 100%, alt: b.says)
    })
  }
}
