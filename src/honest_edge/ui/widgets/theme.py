"""Type and the style sheet, and which colours a choice means."""

from __future__ import annotations

import math
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QGuiApplication, QPalette, QStyleHints
from PyQt6.QtWidgets import QApplication

from honest_edge.files.font_folder import FONT_FOLDER, WINDOW_FONTS
from honest_edge.files.prefs import ThemeChoice
from honest_edge.ui.widgets.tokens import THEMES, ThemeName, Tokens

WORDS, FIGURES = "Atkinson Hyperlegible Next", "Atkinson Hyperlegible Mono"


_USUAL_DPI = 96.0
_USUAL_POINTS = 11.0  # desktops' own fonts have 9 to 11 points; what is larger was made so by the user


class _Scale:
    """How much larger than usual the system wants its letters; set once, before the first widget."""

    factor = 1.0


def take_font_scale(application: QApplication) -> None:
    """Keep to the system's font scale; called before the first widget is made and the application's font set."""
    screen = application.primaryScreen()
    dpi = screen.logicalDotsPerInch() if screen is not None else _USUAL_DPI
    points = application.font().pointSizeF()
    _Scale.factor = min(max(dpi / _USUAL_DPI * max(1.0, points / _USUAL_POINTS), 0.75), 3.0)


def px(size: float) -> int:
    """Return a size at the system's font scale: for letters, and for what holds them."""
    return round(size * _Scale.factor)


def eased_px(size: float) -> int:
    """Return a size that grows half as fast as letters do: for large letters, and for columns whose words wrap."""
    return round(size * min(_Scale.factor, math.sqrt(_Scale.factor)))


def resolved(choice: ThemeChoice) -> ThemeName:
    """Return the theme that a choice means now."""
    if choice != "system":
        return choice
    hints = QGuiApplication.styleHints()
    is_dark = hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark
    return theme_of(is_dark=is_dark, is_high=_is_high_wanted(hints))


def theme_of(*, is_dark: bool, is_high: bool) -> ThemeName:
    """Return the theme with these properties."""
    return next(name for name, tokens in THEMES.items() if (tokens.is_dark, tokens.is_high) == (is_dark, is_high))


def swapped(choice: ThemeChoice) -> ThemeName:
    """Return the dark theme instead of a light one, or the other way round; the contrast stays."""
    tokens = tokens_of(choice)
    return theme_of(is_dark=not tokens.is_dark, is_high=tokens.is_high)


def _is_high_wanted(hints: QStyleHints | None) -> bool:
    access = hints.accessibility() if hints is not None else None
    return access is not None and access.contrastPreference() == Qt.ContrastPreference.HighContrast


def tokens_of(choice: ThemeChoice) -> Tokens:
    """Return the colours that a choice means now."""
    return THEMES[resolved(choice)]


def load_fonts() -> None:
    """Make the fonts that ship with the application known to Qt."""
    for file in sorted(FONT_FOLDER.glob(WINDOW_FONTS)):
        QFontDatabase.addApplicationFont(str(file))


def figures(size: float, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """Return the font for numbers: every digit as wide as the next."""
    font = QFont(FIGURES)
    font.setPixelSize(px(size))
    font.setWeight(weight)
    return font


def tabular(size: float, weight: QFont.Weight = QFont.Weight.DemiBold) -> QFont:
    """Return the font for words with figures that are all as wide, so that a changing number stands still."""
    font = words(size, weight)
    font.setFeature(QFont.Tag(b"tnum"), 1)
    return font


def words(size: float, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """Return the font for words."""
    font = QFont(WORDS)
    font.setPixelSize(px(size))
    font.setWeight(weight)
    return font


def apply(application: QApplication, choice: ThemeChoice) -> None:
    """Give the whole application a theme, unless it has it."""
    if application.styleSheet() != _style_sheet(tokens_of(choice)):
        prepare(application, choice)
        dress(application, choice)


def dress(application: QApplication, choice: ThemeChoice) -> None:
    """Set the style sheet; done once a window is whole, since every reparenting would dress its widgets again."""
    application.setStyleSheet(_style_sheet(tokens_of(choice)))


def prepare(application: QApplication, choice: ThemeChoice) -> None:
    """Set style, font and palette, which new widgets take over as they are made."""
    tokens = tokens_of(choice)
    application.setStyle("Fusion")
    application.setFont(words(13))
    palette = QPalette()
    for role, colour in (
        (QPalette.ColorRole.Window, tokens.panel),
        (QPalette.ColorRole.Base, tokens.field),
        (QPalette.ColorRole.AlternateBase, tokens.panel),
        (QPalette.ColorRole.Button, tokens.panel),
        (QPalette.ColorRole.Text, tokens.ink),
        (QPalette.ColorRole.WindowText, tokens.ink),
        (QPalette.ColorRole.ButtonText, tokens.ink),
        (QPalette.ColorRole.ToolTipBase, tokens.panel),
        (QPalette.ColorRole.ToolTipText, tokens.ink),
        (QPalette.ColorRole.PlaceholderText, tokens.soft),
        (QPalette.ColorRole.Highlight, tokens.accent),
        (QPalette.ColorRole.HighlightedText, tokens.on_accent),
        (QPalette.ColorRole.Link, tokens.accent),
    ):
        palette.setColor(role, QColor(colour))
    application.setPalette(palette)


_ICONS = Path(__file__).with_name("icons")


def _ticks(t: Tokens) -> str:
    """The style's own frame of a tick box hardly stands out from its ground, whether light or dark."""
    tick = f"tick-{'dark' if t.is_dark else 'light'}.svg"
    return f"""
    QCheckBox::indicator {{ width: 12px; height: 12px; border: 1px solid {t.soft}; border-radius: 3px; }}
    QCheckBox::indicator:checked {{ background: {t.accent}; border: 1px solid {t.accent};
        image: url("{(_ICONS / tick).as_posix()}"); }}
    """


def _controls(t: Tokens) -> str:
    """Fields and buttons."""
    return f"""
    QLineEdit, QPlainTextEdit, QSpinBox, QComboBox {{ background: {t.field}; border: 1px solid {t.soft};
        border-radius: 6px; padding: 3px 8px; min-height: {px(20)}px; font-family: "{FIGURES}";
        placeholder-text-color: {t.soft}; }}
    QComboBox {{ font-family: "{WORDS}"; }}
    QSpinBox::up-button, QSpinBox::down-button {{ width: 0; }}
    QComboBox::drop-down {{ border: 0; width: 18px; }}
    QLineEdit:focus, QPlainTextEdit:focus, QSpinBox:focus, QComboBox:focus {{ border: 2px solid {t.accent};
        padding: 2px 7px; }}
    QLineEdit[wrong="true"] {{ border: 2px solid {t.danger}; padding: 2px 7px; }}
    QPushButton, QToolButton {{ background: {t.panel}; border: 1px solid {t.hairline}; border-radius: 6px;
        padding: 4px 10px; min-height: {px(20)}px; }}
    QPushButton:hover, QToolButton:hover {{ background: {t.tint}; }}
    QPushButton:focus, QToolButton:focus {{ border: 2px solid {t.accent}; padding: 3px 9px; }}
    QPushButton:disabled, QToolButton:disabled {{ color: {t.soft}; }}
    QToolButton[helpMark="true"] {{ border: 1px solid transparent; border-radius: 10px; color: {t.soft}; padding: 0;
        min-height: 0; background: transparent; font-weight: 600; }}
    QToolButton[helpMark="true"]:hover, QToolButton[helpMark="true"]:focus {{ color: {t.accent};
        border: 1px solid {t.accent}; padding: 0; }}
    QToolButton::menu-indicator {{ image: none; width: 0; }}
    QToolButton[fold="true"] {{ border: 0; background: transparent; font-weight: 600;
        padding: 2px 0; }}
    QToolButton[fold="true"]:focus {{ border: 2px solid {t.accent}; padding: 0; }}
    QPushButton[filled="true"] {{ background: {t.accent}; color: {t.on_accent}; border: 0; font-weight: 600;
        padding: 7px 14px; }}
    QPushButton[filled="true"]:hover {{ background: {t.ink if t.is_dark else t.through}; }}
    QPushButton[filled="true"]:focus {{ border: 2px solid {t.ink}; padding: 5px 12px; }}
    QPushButton[filled="true"]:disabled {{ background: {t.hairline}; color: {t.soft}; }}
    QPushButton[link="true"] {{ background: transparent; border: 0; color: {t.accent}; font-weight: 600;
        text-align: left; padding: 2px 0; }}
    QPushButton[link="true"]:disabled {{ color: {t.soft}; }}
    QPushButton[big="true"] {{ border: 1px solid {t.soft}; border-radius: 8px; font-size: {eased_px(14)}px; }}
    QPushButton[big="true"][filled="true"] {{ border: 0; font-size: {eased_px(19)}px; }}
    QPushButton[stops="true"] {{ color: {t.danger}; border: 1px solid {t.danger}; font-size: {eased_px(16)}px;
        font-weight: 600; }}
    QPushButton[big="true"]:focus {{ border: 2px solid {t.ink}; }}
    QPushButton[tool="true"] {{ padding: 4px 6px; }}
    QPushButton[tool="true"]:checked {{ background: {t.tint}; border: 2px solid {t.accent}; }}
    QToolButton[page="true"] {{ padding: 4px 2px; border: 2px solid transparent; background: transparent; }}
    QToolButton[page="true"]:checked {{ background: {t.tint}; border: 2px solid {t.accent}; }}
    """


def _around(t: Tokens) -> str:
    """How far work is, the start page, practice and the handbook."""
    return f"""
    QProgressBar {{ background: {t.hairline}; border: 0; border-radius: 3px; max-height: 6px; }}
    QProgressBar::chunk {{ background: {t.accent}; border-radius: 3px; }}
    QPushButton[tile="true"] {{ border-radius: 8px; padding: 0; min-height: 0; }}
    QPushButton[tile="true"]:focus {{ border: 2px solid {t.accent}; padding: 0; }}
    QFrame[drop="true"] {{ background: {t.field}; border: 2px dashed {t.soft}; border-radius: 10px; }}
    #startPage, #startBody {{ background: {t.panel}; }}
    #big {{ font-size: {px(22)}px; font-weight: 600; }}
    QTreeView {{ background: {t.field}; border: 1px solid {t.hairline}; border-radius: 6px; outline: 0; }}
    QTreeView::item {{ padding: {px(4)}px; }}
    QTreeView::item:selected {{ background: {t.tint}; color: {t.ink}; }}
    QTreeView::item:disabled {{ color: {t.soft}; }}
    QTextBrowser {{ background: {t.field}; border: 0; border-left: 1px solid {t.hairline}; }}
    """


def _high(t: Tokens) -> str:
    """What fills alone tell elsewhere has a rim where contrast is high, and links are underlined."""
    if not t.is_high:
        return ""
    return f"""
    QFrame[card="sand"], QFrame[card="guide"] {{ border: 1px solid {t.hairline}; }}
    QPushButton:disabled, QToolButton:disabled {{ border: 1px dashed {t.soft}; }}
    QPushButton[filled="true"]:disabled {{ background: {t.panel}; border: 1px dashed {t.soft}; padding: 6px 13px; }}
    QPushButton[link="true"]:disabled {{ border: 0; }}
    QPushButton[link="true"] {{ text-decoration: underline; }}
    QProgressBar {{ background: {t.field}; border: 1px solid {t.ink}; max-height: 8px; }}
    QSlider::groove:horizontal {{ height: 6px; background: {t.field}; border: 1px solid {t.ink}; }}
    QSlider::sub-page:horizontal {{ border: 1px solid {t.accent}; }}
    QToolTip {{ border: 1px solid {t.ink}; }}
    """


def _style_sheet(t: Tokens) -> str:
    return f"""
    QWidget {{ color: {t.ink}; font-size: {px(13)}px; }}
    QMainWindow, QDialog, QMessageBox {{ background: {t.panel}; }}
    QToolTip {{ background: {t.panel}; color: {t.ink}; border: 1px solid {t.hairline}; padding: 4px; }}
    #tray, #strip, #stripBody {{ background: {t.panel}; border: 0; }}
    #cards, #cardsBody {{ background: {t.panel}; border: 0; }}
    #topBar {{ background: {t.panel}; border-bottom: 1px solid {t.hairline}; }}
    #question {{ font-size: {px(15)}px; font-weight: 600; }}
    #answer {{ font-size: {px(28)}px; font-weight: 600; }}
    #jobTitle {{ font-size: {px(17)}px; font-weight: 600; }}
    QLabel[tone="soft"] {{ color: {t.soft}; font-size: {px(12)}px; }}
    QLabel[tone="danger"] {{ color: {t.danger}; font-weight: 600; }}
    QLabel[tone="look"] {{ color: {t.look}; font-weight: 600; }}
    QLabel[tone="fine"] {{ color: {t.fine}; font-weight: 600; }}
    QLabel[tone="heading"] {{ font-weight: 600; }}
    QLabel[tone="figures"] {{ font-family: "{FIGURES}"; }}
    QFrame[card="plain"] {{ background: {t.panel}; border: 1px solid {t.hairline}; border-radius: 8px; }}
    QFrame[card="sand"] {{ background: {t.sand}; border: 0; border-radius: 8px; }}
    QFrame[card="guide"] {{ background: {t.tint}; border: 0; }} MessageBar {{ border: 1px solid {t.soft}; }}
    QFrame[card="look"] {{ background: {t.panel}; border: 1px solid {t.look}; border-radius: 8px; }}
    {_controls(t)}
    {_around(t)}
    QSlider::groove:horizontal {{ height: 4px; background: {t.hairline}; border-radius: 2px; }}
    QSlider::sub-page:horizontal {{ background: {t.accent}; border-radius: 2px; }}
    QSlider::handle:horizontal {{ width: 14px; height: 14px; margin: -5px 0; border-radius: 7px;
        background: {t.panel}; border: 2px solid {t.accent}; }}
    QSlider:focus {{ border: 1px solid {t.accent}; border-radius: 4px; }}
    QPushButton[choice="true"] {{ border-radius: 8px; min-height: {px(40)}px; }}
    QPushButton[choice="true"]:checked {{ background: {t.tint}; border: 2px solid {t.accent}; }}
    {_ticks(t)}
    QScrollArea {{ border: 0; background: transparent; }}
    QListWidget {{ background: {t.panel}; border: 0; outline: 0; }}
    QListWidget::item {{ border: 1px solid {t.hairline}; border-radius: 8px; margin: 3px 4px; color: {t.ink}; }}
    QListWidget::item:selected {{ background: {t.tint}; border: 2px solid {t.accent}; color: {t.ink}; }}
    #room {{ background: {t.panel}; }}
    #runStep, #runFacts {{ background: {t.table}; }}
    #stepTitle {{ font-size: {eased_px(28)}px; font-weight: 600; }}
    #stepUnder {{ font-size: {eased_px(16)}px; }}
    #runStep QCheckBox[large="true"] {{ font-size: {px(18)}px; padding: {px(6)}px 0; }}
    QLabel[figure="large"] {{ font-size: {eased_px(40)}px; font-weight: 600; }}
    QLabel[figure="long"] {{ font-size: {eased_px(26)}px; font-weight: 600; }}
    QTableView {{ background: {t.panel}; border: 0; outline: 0; selection-background-color: {t.tint};
        selection-color: {t.ink}; }}
    QTableView::item {{ border: 0; border-bottom: 1px solid {t.hairline}; padding: 0 10px; }}
    QTableView:focus {{ border: 1px solid {t.accent}; }}
    QHeaderView {{ background: {t.panel}; border: 0; }}
    QHeaderView::section {{ background: {t.panel}; color: {t.soft}; border: 0; border-bottom: 1px solid {t.soft};
        padding: 6px 13px; font-weight: 600; }}
    QMenu {{ background: {t.panel}; border: 1px solid {t.hairline}; padding: 4px; }}
    QMenu::item {{ padding: 5px 24px 5px 12px; border-radius: 4px; }}
    QMenu::item:selected {{ background: {t.tint}; }}
    QMenu::item:disabled {{ color: {t.soft}; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; }}
    QScrollBar::handle {{ background: {t.hairline}; border-radius: 4px; min-height: 24px; min-width: 24px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    {_high(t)}
    """
