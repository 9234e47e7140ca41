"""Which fields the values of a job had when jobs were first sealed: they are hashed whatever they hold.

What came later is hashed only where it is not as it is by default, so that a print outlives a version that can say
more. This list never grows; the default of a later field never changes.
"""

from __future__ import annotations

FIRST_FIELDS: dict[str, frozenset[str]] = {
    name: frozenset(fields.split())
    for name, fields in {
        "ArtSource": "page hidden_layers region",
        "Backing": "shape grow_mm rgb",
        "BenchCopy": "machine printer key error correction sheets newest_ms",
        "Code": "kind text width_mm height_mm",
        "Correction": "kind points brush",
        "Design": (
            "key name asset file_name width_mm source outline edge copies spares fills layers backing form table "
            "is_flattened"
        ),
        "EdgeRecipe": "school offset_mm bleed_mm corners line_kind hole_mm2 ease_mm fatten_mm fill fill_rgb detail",
        "ErrorParts": "shift_x_mm shift_y_mm rotation_deg scale_x_percent scale_y_percent",
        "FillPlace": "zoom x_mm y_mm turn_deg",
        "Form": (
            "kind width_mm height_mm radius_mm hole_mm jar_mm lower_jar_mm overlap_mm margin_mm columns rows "
            "gap_mm fold fold_kind cut_mm tie_mm depth_mm flap_mm part_width_mm part_height_mm rgb"
        ),
        "Gradient": "kind colours turn_deg",
        "Grown": "of grow_mm",
        "Job": (
            "title designs sheet pins layout drift_mm error measured visible_mm narrowest_mm kept_clear_mm "
            "png_ppi left prints"
        ),
        "Layer": (
            "key name picture lettering shape code sticker grown x_mm y_mm turn_deg role stock is_inlaid tuck_mm "
            "line cut_mm tie_mm joining gap_mm paint group is_meant is_hidden is_locked"
        ),
        "Leaving": "check subject message reason",
        "Lettering": (
            "text family style size_mm sized_by spacing line_spacing align arc_mm fill_counters fatten_mm room_mm "
            "least_mm"
        ),
        "LineUse": "colour pen passes alone",
        "LineUses": "kiss crease perforate through",
        "Machine": (
            "name width_mm length_mm marks feed_side feed_margin_mm speed_mm_s travel_mm_s lines formats "
            "prints_own_marks blade_offset_mm compensates overcut_mm"
        ),
        "MarkSpec": "kind length_mm thickness_mm inset_mm clear_mm rgb",
        "Misregistration": (
            "shift_x_mm shift_y_mm rotation_deg scale_x_percent scale_y_percent repeat_mm degrees_of_freedom"
        ),
        "OutlineRecipe": (
            "background colour tolerance threshold trace_area speck_mm2 hole_mm2 dam_px smoothness_mm corner_deg "
            "corrections"
        ),
        "Paint": "rgb asset file_name repeat_mm place gradient",
        "Picture": "asset file_name width_mm source outline",
        "Pin": "page copy",
        "PlacedCopy": "design turn_deg x_mm y_mm",
        "Printer": "name rim_mm papers scale_x_percent scale_y_percent",
        "Scatter": "bias spread",
        "Shape": "kind width_mm height_mm radius_mm points depth eyelet_mm",
        "SheetSpec": "paper own_mm is_landscape stock machine printer gap_mm turning grouping used",
        "Sticker": "design",
        "Stock": "rgb is_clear is_mirrored cloth_rgb name gloss thickness_mm has_liner is_printable price",
        "Subject": "kind design layer line page",
        "Table": "file_name columns rows left_out shown",
    }.items()
}
"""By the name of their type."""
