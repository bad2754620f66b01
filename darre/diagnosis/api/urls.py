"""Addresses of cases, prints and practice."""

from django.urls import path

from darre.diagnosis.api import print_views, views

urlpatterns = [
    path("cases/", views.CaseListView.as_view()),
    path("cases/<int:case_id>/", views.CaseView.as_view()),
    path("cases/<int:case_id>/signs/", views.SignsView.as_view()),
    path("cases/<int:case_id>/own/", views.OwnListView.as_view()),
    path("own-observations/<int:own_id>/", views.OwnView.as_view()),
    path("cases/<int:case_id>/caliper/", views.CaliperView.as_view()),
    path("cases/<int:case_id>/ratings/", views.RatingsView.as_view()),
    path("cases/<int:case_id>/strength/", views.StrengthView.as_view()),
    path("cases/<int:case_id>/verdict/", views.VerdictView.as_view()),
    path("cases/<int:case_id>/photos/", views.PhotoListView.as_view()),
    path("photos/<int:photo_id>/", views.PhotoView.as_view()),
    path("photos/<int:photo_id>/whole.jpg", views.photo_file),
    path("photos/<int:photo_id>/small.jpg", views.photo_file, {"small": True}),
    path("upload-limits/", views.UploadLimitsView.as_view()),
    path("evidence/", views.TableView.as_view()),
    path("print-files/", print_views.PrintFileView.as_view()),
    path("print-files/<int:file_id>/takes/", print_views.PrintTakesView.as_view()),
    path("prints/", print_views.PrintListView.as_view()),
    path("prints/<int:print_id>/", print_views.PrintView.as_view()),
    path("practice/", print_views.PracticeView.as_view()),
    path("practice/<int:round_id>/checks/", print_views.PracticeCheckView.as_view()),
    path("practice/<int:round_id>/answer/", print_views.PracticeAnswerView.as_view()),
]
