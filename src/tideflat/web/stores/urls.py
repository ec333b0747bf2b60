"""Addresses of the stores."""

from __future__ import annotations

from django.urls import path

from .views.pictures import prop_picture

urlpatterns = [path("props/<int:prop_id>/picture.svg", prop_picture, name="prop_picture")]
