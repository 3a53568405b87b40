/** What values settings may have, by what they are settings of: made by `make types` from the core, never by hand. */

/** Numbers, from the least to the most. */
export const RANGES = {
  "style": {
    "size": {
      "least": 1,
      "most": 400
    },
    "space_before": {
      "least": 0,
      "most": 500
    },
    "space_after": {
      "least": 0,
      "most": 500
    },
    "line_spacing": {
      "least": 0.5,
      "most": 10
    },
    "indent": {
      "least": 0,
      "most": 500
    },
    "first_line": {
      "least": -500,
      "most": 500
    },
    "right_indent": {
      "least": 0,
      "most": 500
    },
    "orphans": {
      "least": 1,
      "most": 9
    },
    "widows": {
      "least": 1,
      "most": 9
    },
    "outline_level": {
      "least": 1,
      "most": 9
    },
    "list_level": {
      "least": 1,
      "most": 9
    }
  },
  "page": {
    "width": {
      "least": 72,
      "most": 5669
    },
    "height": {
      "least": 72,
      "most": 5669
    },
    "top": {
      "least": 0,
      "most": 2000
    },
    "bottom": {
      "least": 0,
      "most": 2000
    },
    "left": {
      "least": 0,
      "most": 2000
    },
    "right": {
      "least": 0,
      "most": 2000
    },
    "columns": {
      "least": 1,
      "most": 4
    },
    "column_gap": {
      "least": 0,
      "most": 200
    },
    "picture_ratio": {
      "least": 0.01,
      "most": 100
    },
    "picture_height": {
      "least": 4,
      "most": 200
    },
    "back_level": {
      "least": 1,
      "most": 9
    }
  },
  "part": {
    "start": {
      "least": 1,
      "most": 9999
    }
  },
  "level_number": {
    "start": {
      "least": 0,
      "most": 9999
    }
  },
  "label": {
    "by_level": {
      "least": 0,
      "most": 9
    }
  },
  "recipe": {
    "passim": {
      "least": 0,
      "most": 99
    },
    "ranges": {
      "least": 0,
      "most": 99
    },
    "leader_step": {
      "least": 1.5,
      "most": 60
    }
  },
  "level_look": {
    "indent": {
      "least": 0,
      "most": 500
    },
    "hang": {
      "least": 0,
      "most": 200
    },
    "size": {
      "least": 4,
      "most": 144
    },
    "space_before": {
      "least": 0,
      "most": 200
    },
    "space_after": {
      "least": 0,
      "most": 200
    },
    "line_spacing": {
      "least": 0.5,
      "most": 10
    }
  },
  "picture": {
    "width": {
      "least": 1.0,
      "most": 5000.0
    }
  }
} as const;

/** What is one of a few, in the core's order. */
export const CHOICES = {
  "style": {
    "role": [
      null,
      "body",
      "title",
      "subtitle",
      "table-title",
      "caption",
      "quotation",
      "cell",
      "code",
      "running",
      "note"
    ],
    "capitals": [
      "none",
      "all",
      "small"
    ],
    "align": [
      "left",
      "center",
      "right",
      "justify"
    ],
    "marker": [
      null,
      "bullet",
      "decimal",
      "upper-roman",
      "lower-roman",
      "upper-letter",
      "lower-letter"
    ]
  },
  "page": {
    "left_pages": [
      "same",
      "mirrored",
      "own"
    ],
    "first_page": [
      "same",
      "none",
      "own"
    ],
    "front": [
      "counted",
      "roman"
    ],
    "footnotes_counted": [
      "report",
      "section",
      "page"
    ],
    "footnote_signs": [
      "decimal",
      "lower-letter",
      "lower-roman",
      "signs"
    ],
    "endnotes_at": [
      "report",
      "section"
    ],
    "endnotes_counted": [
      "report",
      "section"
    ],
    "endnote_signs": [
      "decimal",
      "lower-letter",
      "lower-roman",
      "signs"
    ]
  },
  "part": {
    "figures": [
      null,
      "decimal",
      "upper-roman",
      "lower-roman",
      "upper-letter",
      "lower-letter",
      "none"
    ],
    "begins": [
      "any",
      "right",
      "left"
    ]
  },
  "level_number": {
    "figures": [
      "decimal",
      "upper-roman",
      "lower-roman",
      "upper-letter",
      "lower-letter"
    ]
  },
  "label": {
    "place": [
      "above",
      "below"
    ]
  },
  "recipe": {
    "page_numbers": [
      "edge",
      "words",
      "none"
    ],
    "numbers": [
      "run in",
      "hung",
      "margin",
      "none"
    ],
    "columns": [
      1,
      2
    ],
    "ruled": [
      "none",
      "lines",
      "sections"
    ]
  },
  "level_look": {}
} as const;

/** Of what formulas are made: see the core's `report/formulas.py`. */
export const FORMULAS = {
  "longest": 20000,
  "deepest": 24,
  "elements": {
    "math": {
      "display": [
        "block"
      ]
    },
    "mrow": {},
    "msqrt": {},
    "mtable": {},
    "mtr": {},
    "mtd": {},
    "mspace": {},
    "mi": {
      "mathvariant": [
        "normal"
      ]
    },
    "mn": {},
    "mo": {
      "stretchy": [
        "false",
        "true"
      ],
      "form": [
        "infix",
        "postfix",
        "prefix"
      ]
    },
    "mtext": {},
    "mfrac": {
      "linethickness": [
        "0"
      ]
    },
    "mroot": {},
    "msub": {},
    "msup": {},
    "msubsup": {},
    "munder": {
      "accentunder": [
        "true"
      ]
    },
    "mover": {
      "accent": [
        "true"
      ]
    },
    "munderover": {
      "accent": [
        "true"
      ],
      "accentunder": [
        "true"
      ]
    }
  },
  "space": "(?:\\d{1,2}(?:\\.\\d{1,4})?|\\.\\d{1,4})em"
} as const;

/** Typefaces: see the core's `pages/typefaces.py`. */
export const FAMILIES = {
  "shipped": [
    "Caladea",
    "Carlito",
    "Liberation Serif",
    "Liberation Sans",
    "Liberation Mono"
  ],
  "as_wide": {
    "cambria": "Caladea",
    "calibri": "Carlito",
    "times new roman": "Liberation Serif",
    "times": "Liberation Serif",
    "tinos": "Liberation Serif",
    "thorndale": "Liberation Serif",
    "thorndale amt": "Liberation Serif",
    "nimbus roman": "Liberation Serif",
    "nimbus roman no9 l": "Liberation Serif",
    "freeserif": "Liberation Serif",
    "tex gyre termes": "Liberation Serif",
    "arial": "Liberation Sans",
    "helvetica": "Liberation Sans",
    "arimo": "Liberation Sans",
    "albany": "Liberation Sans",
    "albany amt": "Liberation Sans",
    "nimbus sans": "Liberation Sans",
    "nimbus sans l": "Liberation Sans",
    "freesans": "Liberation Sans",
    "tex gyre heros": "Liberation Sans",
    "courier new": "Liberation Mono",
    "courier": "Liberation Mono",
    "cousine": "Liberation Mono",
    "cumberland": "Liberation Mono",
    "cumberland amt": "Liberation Mono",
    "nimbus mono": "Liberation Mono",
    "nimbus mono l": "Liberation Mono",
    "freemono": "Liberation Mono",
    "tex gyre cursor": "Liberation Mono"
  },
  "serif": [
    "serif",
    "roman",
    "georgia",
    "garamond",
    "book",
    "palatino",
    "minion",
    "century"
  ],
  "mono": [
    "mono",
    "consol",
    "typewriter",
    "code"
  ],
  "weight": " (?:thin|light|semilight|medium|semibold|demi|black|heavy)$",
  "stand_ins": {
    "Caladea": [
      "Liberation Serif",
      "Liberation Sans",
      "Liberation Mono",
      "DejaVu Sans"
    ],
    "Carlito": [
      "Liberation Sans",
      "Liberation Serif",
      "Liberation Mono",
      "DejaVu Sans"
    ],
    "Liberation Serif": [
      "Liberation Sans",
      "Carlito",
      "Liberation Mono",
      "DejaVu Sans"
    ],
    "Liberation Sans": [
      "Liberation Serif",
      "Carlito",
      "Liberation Mono",
      "DejaVu Sans"
    ],
    "Liberation Mono": [
      "Liberation Sans",
      "Liberation Serif",
      "Carlito",
      "DejaVu Sans"
    ]
  },
  "name": "[^\\x00-\\x1f\\x7f\"'\\\\;{}<>]{1,60}"
} as const;

/** How the lines of tables are set: see the core's `tables/setting.py`. Lengths in points. */
export const LINES = {
  "run_in_from": 3,
  "page_gap": 6.0,
  "page_separator": ", ",
  "least_words": 60.0,
  "most_indent": 500.0
} as const;

/** How many tab stops a style may set, how far from the left, and the distance of those that are there without. */
export const TAB_STOPS = {
  "most": 20,
  "furthest": 2000.0,
  "usual": 36.0
} as const;
