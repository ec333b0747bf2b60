"""Addresses of the stores."""

from __future__ import annotations

from django.urls import path

from .views import images, kit, many_props, measuring, props, tables

urlpatterns = [
    path("", props.stores, name="stores"),
    path("fill/", many_props.fill, name="fill_stores"),
    path("bulk/", many_props.bulk, name="change_many"),
    path("props/new/", props.prop_page, name="new_prop"),
    path("props/<int:prop_id>/", props.prop_page, name="prop_page"),
    path("props/<int:prop_id>/remove/", props.remove, name="remove_prop"),
    path("props/<int:prop_id>/picture.svg", images.prop_picture, name="prop_picture"),
    path("pictures/<slug:key>.webp", images.stored_picture, name="stored_picture"),
    path("export.csv", tables.export_table, name="export_table"),
    path("import/", tables.import_table, name="import_table"),
    path("measure/", measuring.measure_page, name="measure"),
    path("measure/keep/", measuring.keep_measured, name="keep_measured"),
    path("measure/keep-several/", measuring.keep_several, name="keep_several"),
    path("measure/sheet-<slug:kind>.svg", measuring.printable_sheet, name="printable_sheet"),
    path("measure/example/<slug:name>.jpg", measuring.example_photograph, name="example_photograph"),
    path("kit/", kit.kit, name="kit"),
    path("kit/<slug:kind>/new/", kit.kit_item, name="new_kit_item"),
    path("kit/<slug:kind>/<int:item_id>/", kit.kit_item, name="kit_item"),
    path("kit/lens/<int:item_id>/measured/", kit.measure_lens, name="measure_lens"),
    path("kit/<slug:kind>/<int:item_id>/remove/", kit.remove_kit_item, name="remove_kit_item"),
]
