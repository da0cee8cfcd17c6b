/** Ask what a search is for, and whether it finds. */
function answer({ wanted, texts }) {
  return { words: module.searchable(wanted), found: module.searcher(wanted)(...texts) }
}
