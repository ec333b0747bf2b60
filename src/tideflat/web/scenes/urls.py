"""Addresses of scenes."""

from __future__ import annotations

from django.urls import path

from .views import bench, changes, shelf

urlpatterns = [
    path("", shelf.shelf, name="shelf"),
    path("scenes/new/", shelf.new_scene, name="new_scene"),
    path("scenes/import/", shelf.import_scene, name="import_scene"),
    path("scenes/<int:scene_id>/", bench.bench, name="bench"),
    path("scenes/<int:scene_id>/stage/", bench.stage_view, name="stage"),
    path("scenes/<int:scene_id>/tray/", bench.tray_view, name="tray"),
    path("scenes/<int:scene_id>/remedy/", bench.remedy_view, name="remedy"),
    path("scenes/<int:scene_id>/export/", bench.export_scene, name="export_scene"),
    path("scenes/<int:scene_id>/do/<slug:verb>/", changes.change, name="change"),
    path("scenes/<int:scene_id>/undo/", changes.undo_view, name="undo"),
    path("scenes/<int:scene_id>/redo/", changes.redo_view, name="redo"),
    path("scenes/<int:scene_id>/put-away/", shelf.put_away_scene, name="put_away_scene"),
    path("scenes/<int:scene_id>/bring-back/", shelf.bring_back_scene, name="bring_back_scene"),
]
