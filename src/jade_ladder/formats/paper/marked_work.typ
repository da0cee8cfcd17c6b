// What is laid over the pages of a student's PDF, one page for each, and the remarks behind them.
// The words come as data: nothing of them is read as markup.
#let job = json(bytes(sys.inputs.job))
#let (ink, soft, edge, jade, slate) = ("#17231e", "#5a655f", "#857e69", "#1f7a5c", "#66716b").map(rgb)
#let marker = rgb("#f0d45c").transparentize(68%)

#set document(title: job.remarks.title.map(line => line.text).join(" "))
#set text(
  font: (
    "Noto Sans", "Noto Sans Arabic", "Noto Sans Hebrew", "Noto Sans Devanagari", "Noto Sans Bengali",
    "Noto Sans Tamil", "Noto Sans Thai", "Droid Sans Fallback", "DejaVu Sans Mono",
  ),
  size: 10pt,
  fill: ink,
)

#let badge(number) = box(
  fill: ink,
  radius: 5pt,
  inset: (x: 3.5pt),
  height: 10.5pt,
  align(horizon, text(fill: white, size: 7.5pt, weight: "bold", str(number))),
)

// A box or an arrow between two points, and its number.
#let shape(kind, from, to, number) = {
  let at = none
  if kind == "box" {
    let (left, right) = (calc.min(from.at(0), to.at(0)), calc.max(from.at(0), to.at(0)))
    let (top, foot) = (calc.min(from.at(1), to.at(1)), calc.max(from.at(1), to.at(1)))
    place(dx: left, dy: top, rect(width: right - left, height: foot - top, stroke: 1.6pt + ink))
    at = (left, top - 12pt)
  } else {
    let (x, y) = (to.at(0) - from.at(0), to.at(1) - from.at(1))
    let turn = calc.atan2(x.pt(), y.pt())
    let end(by) = (to.at(0) - 9pt * calc.cos(turn + by), to.at(1) - 9pt * calc.sin(turn + by))
    place(line(start: from, end: to, stroke: 1.6pt + ink))
    place(polygon(fill: ink, to, end(24deg), end(-24deg)))
    at = (from.at(0) - 4pt, from.at(1) - 13pt)
  }
  if number != none {
    place(dx: calc.max(at.at(0), 1pt), dy: calc.max(at.at(1), 1pt), badge(number))
  }
}

// The place of a passage on its page: words are washed and underlined, so that they hold in grey.
#let drawn(one) = {
  for (x, y, width, height) in one.rects {
    place(dx: x * 1pt, dy: y * 1pt, rect(width: width * 1pt, height: height * 1pt, fill: marker))
    let foot = (y + height) * 1pt
    place(line(start: (x * 1pt, foot), end: ((x + width) * 1pt, foot), stroke: 1pt + edge))
  }
  if one.shape != none {
    shape(one.shape.kind, one.shape.from.map(n => n * 1pt), one.shape.to.map(n => n * 1pt), one.number)
  } else if one.number != none {
    let (x, y, width, _) = one.rects.last()
    let at = ((x + width) * 1pt + 1pt, y * 1pt - 4pt)
    place(dx: calc.max(at.at(0), 1pt), dy: calc.max(at.at(1), 1pt), badge(one.number))
  }
}

#for layer in job.layers {
  page(width: layer.width * 1pt, height: layer.height * 1pt, margin: 0pt, fill: none, {
    for one in layer.drawn { drawn(one) }
  })
}

// From here on: the parts that are no PDF, each with a bookmark by which its pages are found.
#let sheet(body) = page(paper: "a4", margin: (x: 20mm, y: 18mm), footer: {
  set text(size: 8pt, fill: soft)
  job.remarks.foot.map(line => line.text).join(" ")
}, body)
#let titled(lines) = heading(level: 1, text(
  size: 11pt, weight: "bold", fill: soft, lines.map(line => line.text).join(" "),
))
#let run(one) = {
  if one.marked {
    highlight(fill: marker, underline(stroke: 1pt + edge, offset: 2pt, one.text))
  } else { one.text }
  for number in one.numbers { [#h(1pt)#badge(number)#h(1pt)] }
}

#for part in job.sets {
  sheet({
    titled(part.title)
    v(6pt)
    if "lines" in part {
      for line in part.lines {
        let flow = if line.dir == "rtl" { rtl } else { ltr }
        let weight = if line.heading { "bold" } else { "regular" }
        block(above: 0.62em, below: 0.62em, text(dir: flow, weight: weight, align(start, {
          if line.runs.len() == 0 { v(0.2em) }
          for one in line.runs { run(one) }
        })))
      }
      for line in part.note { block(above: 12pt, text(size: 8.5pt, fill: soft, line.text)) }
    } else {
      layout(room => {
        let whole = measure(image(part.path, format: part.form, width: room.width))
        let most = room.height - 60pt
        let wide = if whole.height > most { room.width * (most / whole.height) } else { room.width }
        let high = whole.height * (wide / whole.width)
        box(width: wide, height: high, {
          place(image(part.path, format: part.form, width: wide, height: high))
          for one in part.drawn {
            let point(share) = (share.at(0) * wide, share.at(1) * high)
            shape(one.kind, point(one.from), point(one.to), one.number)
          }
        })
      })
    }
  })
}

// The pages of remarks.
#let read(lines) = for line in lines {
  // The first letter says which way a line is read; what it quotes does not turn it round.
  let flow = if line.dir == "rtl" { rtl } else { ltr }
  text(dir: flow, align(start, line.text))
}
#let inline(lines) = lines.map(line => line.text).join(" ")

#let ladder(level, levels, met, size: 22pt) = box(width: size, height: size, {
  let gap = size / levels
  let color = if level != none and level >= met { jade } else { slate }
  for rung in range(levels) {
    let reached = level != none and rung <= level
    let wide = if rung == met { size } else { size * 0.66 }
    let high = if reached { calc.max(1.6pt, gap * 0.6) } else { 0.7pt }
    place(
      dx: (size - wide) / 2,
      dy: size - (rung + 0.5) * gap - high / 2,
      rect(width: wide, height: high, fill: if reached { color } else { edge }),
    )
  }
})

#let remark(one) = block(above: 9pt, below: 0pt, grid(
  columns: (if one.number == none { 0pt } else { 24pt }, 1fr),
  if one.number != none { badge(one.number) },
  {
    read(one.words)
    if one.where.len() > 0 { block(above: 5pt, text(size: 8.5pt, fill: soft, read(one.where))) }
  },
))

#page(paper: "a4", margin: (x: 20mm, y: 18mm), footer: context {
  set text(size: 8pt, fill: soft)
  inline(job.remarks.foot)
  h(1fr)
  counter(page).display()
}, {
  counter(page).update(1)
  set par(leading: 0.6em, spacing: 0.7em)
  show heading: set text(weight: "bold")
  heading(level: 1, text(size: 16pt, inline(job.remarks.title)))
  for line in job.remarks.about { block(above: 6pt, below: 0pt, text(size: 9pt, fill: soft, inline(line))) }
  v(14pt)
  if job.remarks.total != "" { block(strong(job.remarks.total)) }
  for one in job.remarks.said { remark(one) }
  for one in job.remarks.criteria {
    block(above: 11pt, below: 0pt, line(length: 100%, stroke: 0.5pt + edge))
    block(above: 8pt, below: 0pt, grid(
      columns: (32pt, 1fr),
      if one.levels > 0 { ladder(one.level, one.levels, one.met_level) },
      {
        block(below: 6pt, {
          strong(inline(one.title))
          text(fill: soft, [ · ] + inline(one.level_name))
        })
        read(one.words)
        for each in one.said { remark(each) }
        if one.next_words.len() > 0 {
          block(above: 9pt, inset: (left: 7pt, y: 2pt), stroke: (left: 1.2pt + edge), {
            strong[To climb: ]
            inline(one.next_words)
          })
        }
      },
    ))
  }
  if job.remarks.total_lines.len() > 0 {
    block(above: 14pt, below: 4pt, strong[How the total comes about])
    for (reason, amount) in job.remarks.total_lines {
      block(above: 4pt, below: 0pt, { inline(reason); h(1fr); inline(amount) })
    }
  }
})
