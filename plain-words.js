/**
 * A lint rule for the accent that this house has left: words that nobody says in one breath, in comments and in strings. It finds
 * the worst; a reader finds the rest.
 */
const worst =
  /\b(anew|whoever|whomever|of whom|of which nobody|all the same|so many|so long|is called so|stands|by itself|meanwhile|beside)\b/i;

/** Names of files and ids are no prose. */
const isProse = (text) => /\s/.test(text.trim());

export const plainWords = {
  meta: { type: 'suggestion', schema: [], messages: { word: '“{{word}}”: say it as a colleague would.' } },
  create(context) {
    const look = (node, text) => {
      const found = worst.exec(text);
      if (found && isProse(text))
        context.report({ loc: node.loc, messageId: 'word', data: { word: found[0] } });
    };
    return {
      Program() {
        for (const comment of context.sourceCode.getAllComments()) look(comment, comment.value);
      },
      Literal(node) {
        if (typeof node.value === 'string') look(node, node.value);
      },
      JSXText(node) {
        look(node, node.value);
      },
      TemplateElement(node) {
        look(node, node.value.raw);
      },
    };
  },
};
