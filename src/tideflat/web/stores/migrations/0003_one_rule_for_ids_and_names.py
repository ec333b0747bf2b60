"""What the stores kept under older rules: names are one plain line, sizes lie between 0.1 mm and 20 m, pictures are named by ids."""

from typing import Any

from django.db import migrations

from tideflat.core.formats.older_rules import mended_id, mended_name, mended_shape, mended_size, mended_skin

SIZES = ("width_mm", "depth_mm", "height_mm")


def mend(apps, schema_editor):
    for model in ("StoreSurface", "StoreBackdrop", "StoreCard", "StoreSupport", "CameraBody", "StoreLens"):
        rows = apps.get_model("stores", model).objects
        for row in rows.iterator():
            mend_row(rows, row, kit_value(row))
    props = apps.get_model("stores", "StoreProp").objects
    for row in props.iterator(chunk_size=200):
        try:
            value = prop_value(row)
        except (KeyError, TypeError):
            continue
        key = mended_id(row.key, 60)
        if key != row.key and not props.filter(studio_id=row.studio_id, key=key).exists():
            value["key"] = key
        mend_row(props, row, value)
    pictures = apps.get_model("stores", "StorePicture").objects
    for pk, key in pictures.values_list("pk", "key"):
        if mended_id(key, 40) != key:
            pictures.filter(pk=pk).update(key=mended_id(key, 40))


def mend_row(rows, row, value):
    changed = {key: new for key, new in value.items() if new != getattr(row, key)}
    if changed:
        rows.filter(pk=row.pk).update(**changed)


def kit_value(row):
    value: dict[str, Any] = {"name": mended_name(row.name)}
    if getattr(row, "place", ""):
        value["place"] = mended_name(row.place)
    value |= {key: mended_size(getattr(row, key)) for key in SIZES if hasattr(row, key)}
    if getattr(row, "lines", None):
        value["lines"] = {**row.lines, "pitch": mended_size(row.lines.get("pitch"))}
    if getattr(row, "skin", None):
        value["skin"] = mended_skin(row.skin)
    return value


def prop_value(row):
    value: dict[str, Any] = {"name": mended_name(row.name), "shape": mended_shape(row.shape), "skins": [mended_skin(s) for s in row.skins]}
    value |= {key: mended_name(getattr(row, key)) for key in ("place", "lender", "size_source") if getattr(row, key)}
    return value | {key: mended_size(getattr(row, key)) for key in SIZES}


class Migration(migrations.Migration):

    dependencies = [
        ('stores', '0002_photographs_and_palette'),
    ]

    operations = [migrations.RunPython(mend, migrations.RunPython.noop)]
