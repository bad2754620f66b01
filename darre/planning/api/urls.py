"""Addresses of plans, the drying map, and the start of a run."""

from django.urls import path

from darre.planning.api import dryer_views, past_run_views, views

urlpatterns = [
    path("plan/", views.PlanView.as_view()),
    path("plan/map/", views.MapView.as_view()),
    path("plan/alternatives/", views.AlternativesView.as_view()),
    path("plan/start/", views.StartRunView.as_view()),
    path("dryers/compared/", dryer_views.DryersComparedView.as_view()),
    path("dryers/home-built/", dryer_views.HomeBuiltView.as_view()),
    path("runs/table/look/", past_run_views.LookAtPastRunsView.as_view()),
    path("runs/table/", past_run_views.AddPastRunsView.as_view()),
    path("runs/<int:run_id>/change/", views.ChangeRunView.as_view()),
]
