function answer({ given, calls }) {
  const answers = calls.map(([name, ...values]) => module[name](given, ...values) ?? null)
  return { given, answers }
}
