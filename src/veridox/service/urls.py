"""All addresses of the service."""

from django.urls import path, re_path
from drf_spectacular.views import SpectacularAPIView, SpectacularSwaggerView

from veridox.service.api import accounts as accounts
from veridox.service.api import connections as connections
from veridox.service.api import desk as desk
from veridox.service.api import documents as documents
from veridox.service.api import house as house
from veridox.service.api import mail as mail
from veridox.service.api import masterdata as masterdata
from veridox.service.api import notices as notices
from veridox.service.api import people, runs
from veridox.service.api import pipelines as pipelines
from veridox.service.api import reports as reports
from veridox.service.api import trail as trail
from veridox.service.api.health import Health
from veridox.service.web.console import console

V1 = "api/v1/"
urlpatterns = [
    path(V1 + "health", Health.as_view()),
    path(V1 + "schema", SpectacularAPIView.as_view(), name="schema"),
    path(V1 + "docs", SpectacularSwaggerView.as_view(url_name="schema")),
    path(V1 + "session", accounts.Session.as_view()),
    path(V1 + "session/password", people.OwnPassword.as_view()),
    path(V1 + "people", people.PersonList.as_view()),
    path(V1 + "people/<str:username>", people.PersonDetail.as_view()),
    path(V1 + "today", reports.TodayView.as_view()),
    path(V1 + "search", reports.Search.as_view()),
    path(V1 + "tokens", accounts.TokenList.as_view()),
    path(V1 + "tokens/<int:pk>", accounts.TokenDetail.as_view()),
    path(V1 + "files", documents.FileList.as_view()),
    path(V1 + "files/<int:pk>", documents.FileDetail.as_view()),
    path(V1 + "files/<int:pk>/content", documents.FileContent.as_view()),
    path(V1 + "documents", documents.DocumentList.as_view()),
    path(V1 + "documents/export", documents.DocumentExport.as_view()),
    path(V1 + "documents/<int:pk>", documents.DocumentDetail.as_view()),
    path(V1 + "documents/<int:pk>/fields", documents.DocumentFields.as_view()),
    path(V1 + "documents/<int:pk>/why", documents.DocumentWhy.as_view()),
    path(V1 + "documents/<int:pk>/history", documents.DocumentHistory.as_view()),
    path(V1 + "documents/<int:pk>/pages/<int:page>", documents.DocumentPage.as_view()),
    path(V1 + "documents/<int:pk>/pages/<int:page>/words", documents.DocumentWords.as_view()),
    path(V1 + "documents/<int:pk>/order", documents.DocumentOrder.as_view()),
    path(V1 + "documents/<int:pk>/parties", documents.DocumentParties.as_view()),
    path(V1 + "documents/<int:pk>/restore", documents.DocumentRestore.as_view()),
    path(V1 + "documents/<int:pk>/post", desk.DocumentPost.as_view()),
    path(V1 + "documents/<int:pk>/discard", desk.DocumentDiscard.as_view()),
    path(V1 + "documents/<int:pk>/again", desk.DocumentAgain.as_view()),
    path(V1 + "documents/<int:pk>/reopen", desk.DocumentReopen.as_view()),
    path(V1 + "documents/<int:pk>/hold", desk.DocumentHold.as_view()),
    path(V1 + "documents/<int:pk>/take", desk.DocumentTake.as_view()),
    path(V1 + "documents/<int:pk>/release", desk.DocumentRelease.as_view()),
    path(V1 + "documents/<int:pk>/letter", desk.DocumentLetter.as_view()),
    path(V1 + "documents/<int:pk>/return", desk.DocumentReturn.as_view()),
    path(V1 + "documents/<int:pk>/comments", desk.DocumentComments.as_view()),
    path(V1 + "desk", desk.DeskList.as_view()),
    path(V1 + "desk/waiting", desk.DeskWaiting.as_view()),
    path(V1 + "messages", mail.MessageList.as_view()),
    path(V1 + "messages/export", mail.MessageExport.as_view()),
    path(V1 + "messages/<int:pk>", mail.MessageDetail.as_view()),
    path(V1 + "messages/<int:pk>/original", mail.MessageOriginal.as_view()),
    path(V1 + "messages/<int:pk>/html", mail.MessageHtml.as_view()),
    path(V1 + "messages/<int:pk>/again", mail.MessageAgain.as_view()),
    path(V1 + "messages/<int:pk>/aside", mail.MessageAside.as_view()),
    path(V1 + "files/<int:pk>/take", mail.FileTakeIn.as_view()),
    path(V1 + "files/<int:pk>/leave", mail.FileLeaveOut.as_view()),
    path(V1 + "mailboxes/<slug:name>/peek", mail.Peek.as_view()),
    path(V1 + "reports/runs", runs.RunList.as_view()),
    path(V1 + "reports/runs/<int:pk>", runs.RunDetail.as_view()),
    path(V1 + "reports/runs/<int:pk>/rows", runs.RunRows.as_view()),
    path(V1 + "reports/runs/<int:pk>/export", runs.RunExport.as_view()),
    path(V1 + "reports/accounts", mail.AccountList.as_view()),
    path(V1 + "notices", notices.NoticeList.as_view()),
    path(V1 + "notices/<int:pk>/again", notices.NoticeAgain.as_view()),
    path(V1 + "service", house.Service.as_view()),
    path(V1 + "service/go-on", house.ServiceGoOn.as_view()),
    path(V1 + "entities", masterdata.EntityList.as_view()),
    path(V1 + "entities/import", masterdata.EntityImport.as_view()),
    path(V1 + "vendors", masterdata.VendorList.as_view()),
    path(V1 + "vendors/import", masterdata.VendorImport.as_view()),
    path(V1 + "vendors/<str:code>", masterdata.VendorDetail.as_view()),
    path(V1 + "orders", masterdata.OrderList.as_view()),
    path(V1 + "orders/import", masterdata.OrderImport.as_view()),
    path(V1 + "orders/<str:number>", masterdata.OrderDetail.as_view()),
    path(V1 + "pipelines", pipelines.PipelineList.as_view()),
    path(V1 + "pipelines/check", pipelines.PipelineCheck.as_view()),
    path(V1 + "pipelines/<slug:name>", pipelines.PipelineDetail.as_view()),
    path(V1 + "pipelines/<slug:name>/versions", pipelines.PipelineVersions.as_view()),
    path(V1 + "connections", connections.ConnectionList.as_view()),
    path(V1 + "connections/rotate", connections.ConnectionRotate.as_view()),
    path(V1 + "connections/<slug:name>/secret", connections.ConnectionSecret.as_view()),
    path(V1 + "connections/<slug:name>", connections.ConnectionDetail.as_view()),
    path(V1 + "connections/<slug:name>/test", connections.ConnectionTest.as_view()),
    path(V1 + "trail", trail.TrailList.as_view()),
    path(V1 + "trail/head", trail.TrailHead.as_view()),
    path(V1 + "trail/names", trail.TrailNames.as_view()),
    path(V1 + "trail/export", trail.TrailExport.as_view()),
    re_path(r"^(?!api/|static/).*$", console),
]
