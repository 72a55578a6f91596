/** What strength is made of, in words. */
export const featureNames: Record<string, string> = {
  siteStanding: 'site standing',
  pageStanding: 'page standing',
  trust: 'trust',
  linkingSites: 'sites linking to the page',
  fit: 'fit to the keyword',
  rewarded: 'words the page rewards',
  alike: 'likeness to the others',
  sharedPhrase: 'phrase of the others',
  kindAlike: 'kind of page',
  ageYears: 'site age in years',
  record: 'record of the site',
}
export const featureNotes: Record<string, string> = {
  siteStanding: '0–100, from the sites that link to the site',
  pageStanding: '0–100, from the link graph',
  trust: '0–100, from the link graph, beginning with vetted sites',
  linkingSites: 'How many sites link to this very page',
  fit: '0–100: the keyword in title, address, snippet',
  rewarded: '0–100: its words that other results have too',
  alike: '0–100: speaks of what the others speak of; 50 as the first ten',
  sharedPhrase: '0–100: says of the keyword what the others say',
  kindAlike: '0–100: home page, shop or guide, as the others',
  ageYears: 'Years since the site was registered',
}
