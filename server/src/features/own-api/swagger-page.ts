/** The page that shows the API; scripts come from files, since none may stand in a page. */
export const swaggerPage = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>API · Dew Trail</title>
<link rel="stylesheet" href="swagger-ui.css">
</head>
<body>
<div id="api"></div>
<script src="swagger-ui-bundle.js"></script>
<script src="start.js"></script>
</body>
</html>
`
export const swaggerStart = `SwaggerUIBundle({
  url: '../openapi.json', dom_id: '#api', deepLinking: true, docExpansion: 'none', filter: true,
  defaultModelsExpandDepth: -1, validatorUrl: null, tryItOutEnabled: false
})
`
