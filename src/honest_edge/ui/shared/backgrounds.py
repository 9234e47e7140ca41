"""How a picture is told from its background, in words."""

BACKGROUNDS = (
    ("auto", "automatic"),
    ("alpha", "transparency"),
    ("flood", "from the border"),
    ("colour", "colour everywhere"),
    ("subject", "photo’s subject"),
    ("none", "keep rectangle"),
)
