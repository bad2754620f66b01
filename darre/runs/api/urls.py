"""Addresses of runs, their events, weighings, and the first workshop."""

from django.urls import path

from darre.runs.api import (
    empty_table_views,
    event_views,
    first_workshop_views,
    spool_table_views,
    used_up_views,
    views,
    weighing_table_views,
)

urlpatterns = [
    path("first-workshop/", first_workshop_views.FirstWorkshopView.as_view()),
    path("spools/table/look/", spool_table_views.LookAtTableView.as_view()),
    path("spools/table/", spool_table_views.AddTableView.as_view()),
    path("spools/<int:spool_id>/archive/", used_up_views.UsedUpView.as_view()),
    path("empty-spools/table/look/", empty_table_views.LookAtEmptySpoolsView.as_view()),
    path("empty-spools/table/", empty_table_views.TakeOverEmptySpoolsView.as_view()),
    path("weighings/table/look/", weighing_table_views.LookAtWeighingsView.as_view()),
    path("weighings/table/", weighing_table_views.AddWeighingsView.as_view()),
    path("weighings/", views.WeighingView.as_view()),
    path("weighings/<int:weighing_id>/", views.OneWeighingView.as_view()),
    path("runs/", views.RunListView.as_view()),
    path("runs/<int:run_id>/", views.RunView.as_view()),
    path("runs/<int:run_id>/end/", views.EndRunView.as_view()),
    path("runs/<int:run_id>/events/", event_views.EventListView.as_view()),
    path("runs/<int:run_id>/energy/", event_views.EnergyView.as_view()),
    path("run-events/<int:event_id>/", event_views.EventView.as_view()),
]
