"""Addresses of scenes."""

from __future__ import annotations

from django.urls import path

from .views import bench, building, changes, copying, following, framing, lighting, proposing, set_ups, shelf, stations, versions, what_if

urlpatterns = [
    path("", shelf.shelf, name="shelf"),
    path("scenes/new/", shelf.new_scene, name="new_scene"),
    path("scenes/import/", shelf.import_scene, name="import_scene"),
    path("scenes/<int:scene_id>/", bench.bench, name="bench"),
    path("scenes/<int:scene_id>/card/", shelf.shelf_scene, name="shelf_scene"),
    path("scenes/<int:scene_id>/stage/", bench.stage_view, name="stage"),
    path("scenes/<int:scene_id>/tray/", bench.tray_view, name="tray"),
    path("scenes/<int:scene_id>/remedy/", bench.remedy_view, name="remedy"),
    path("scenes/<int:scene_id>/references/", stations.send_reference, name="send_reference"),
    path("scenes/<int:scene_id>/references/<int:reference_id>/", stations.one_reference, name="one_reference"),
    path("scenes/<int:scene_id>/day/", stations.shoot_day, name="shoot_day"),
    path("scenes/<int:scene_id>/reserve/", stations.reserve, name="reserve"),
    path("scenes/<int:scene_id>/usual-leanings/", stations.usual_leanings, name="usual_leanings"),
    path("scenes/<int:scene_id>/palette.<slug:palette_kind>", stations.palette_file, name="palette_file"),
    path("scenes/<int:scene_id>/what-if/", what_if.what_if, name="what_if"),
    path("scenes/<int:scene_id>/export/", bench.export_scene, name="export_scene"),
    path("scenes/<int:scene_id>/light/", lighting.light_drawn, name="light_drawn"),
    path("scenes/<int:scene_id>/overlay/", framing.overlay, name="overlay"),
    path("scenes/<int:scene_id>/fit/", framing.fit_told, name="fit_told"),
    path("scenes/<int:scene_id>/one-frame/", framing.frame_for_all, name="frame_for_all"),
    path("scenes/<int:scene_id>/one-frame/look/", framing.look_for_one_frame, name="look_for_one_frame"),
    path("scenes/<int:scene_id>/set-ups/", set_ups.set_ups_beside, name="set_ups_beside"),
    path("scenes/<int:scene_id>/set-ups/over/", set_ups.set_up_over, name="set_up_over"),
    path("scenes/<int:scene_id>/plan/", framing.plan_at_true_size, name="plan_at_true_size"),
    path("scenes/<int:scene_id>/beside-the-camera/", framing.beside_camera, name="beside_camera"),
    path("scenes/<int:scene_id>/do/<slug:verb>/", changes.change, name="change"),
    path("scenes/<int:scene_id>/follow/<slug:verb>/", following.follow, name="follow"),
    path("scenes/<int:scene_id>/propose/", proposing.propose, name="propose"),
    path("scenes/<int:scene_id>/proposals/", proposing.proposals, name="proposals"),
    path("scenes/<int:scene_id>/proposals/<int:work_id>/stop/", proposing.stop_proposing, name="stop_proposing"),
    path("scenes/<int:scene_id>/build/", building.build, name="build"),
    path("scenes/<int:scene_id>/build/drift/", building.work_out_drift, name="work_out_drift"),
    path("scenes/<int:scene_id>/versions/", versions.beside, name="versions"),
    path("scenes/<int:scene_id>/versions/keep/", versions.keep, name="keep_version"),
    path("scenes/<int:scene_id>/versions/<int:number>/", versions.judge, name="judge_version"),
    path("scenes/<int:scene_id>/versions/<int:number>/over/", versions.over, name="version_over"),
    path("scenes/<int:scene_id>/undo/", changes.undo_view, name="undo"),
    path("scenes/<int:scene_id>/redo/", changes.redo_view, name="redo"),
    path("scenes/<int:scene_id>/go-to/", changes.go_to_view, name="go_to"),
    path("scenes/<int:scene_id>/copy/", copying.copy_scene_view, name="copy_scene"),
    path("scenes/<int:scene_id>/copy-things/", copying.copy_things_view, name="copy_things"),
    path("scenes/put-away/", shelf.put_away_several, name="put_away_several"),
    path("scenes/<int:scene_id>/put-away/", shelf.put_away_scene, name="put_away_scene"),
    path("scenes/<int:scene_id>/bring-back/", shelf.bring_back_scene, name="bring_back_scene"),
]
