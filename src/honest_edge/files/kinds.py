"""The kinds of file by their endings, known without loading what reads them."""

PICTURE_SUFFIXES = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".bmp")
PROJECT_SUFFIX = ".hedge"
