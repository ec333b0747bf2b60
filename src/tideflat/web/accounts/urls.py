"""Addresses of people."""

from __future__ import annotations

from django.contrib.auth.views import LogoutView
from django.urls import path

from .views.people import people, set_role
from .views.person import ChangePassword, SignIn, choose_studio, preferences

urlpatterns = [
    path("sign-in/", SignIn.as_view(), name="sign_in"),
    path("sign-out/", LogoutView.as_view(), name="sign_out"),
    path("password/", ChangePassword.as_view(), name="password_change"),
    path("preferences/", preferences, name="preferences"),
    path("people/", people, name="people"),
    path("people/<int:member_id>/", set_role, name="set_role"),
    path("studios/<int:studio_id>/", choose_studio, name="choose_studio"),
]
