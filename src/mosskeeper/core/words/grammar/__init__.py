"""The grammar of prompts: from a text to its words, each with one reading, and to bindings between them.

A binding says which word belongs to which: the coat to the woman, red to the coat. Words that cannot be drawn are bound, too.
The steps, each a module: `lexicon` (what a word can be), `words` (words and units of a text), `tagging` (one reading each),
`chunks` (noun phrases, verbs, qualities), `referents` (whom pronouns mean), `arcs` (the cheapest head of each chunk),
`bindings` (what that says). The method and its costs are our own.
"""
