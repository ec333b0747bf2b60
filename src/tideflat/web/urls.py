"""Every address of the program."""

from __future__ import annotations

from django.urls import include, path

urlpatterns = [
    path("", include("tideflat.web.scenes.urls")),
    path("", include("tideflat.web.accounts.urls")),
    path("stores/", include("tideflat.web.stores.urls")),
]
handler400 = "tideflat.web.ui.errors.misread"
handler403 = "tideflat.web.ui.errors.refused"
handler404 = "tideflat.web.ui.errors.not_found"
handler500 = "tideflat.web.ui.errors.failed"
